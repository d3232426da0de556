/** Names become parts of signal paths and C identifiers; what every object of the language has by itself cannot be one. */
export const partName =
  /^(?!(?:constructor|toString|toLocaleString|valueOf|hasOwnProperty|isPrototypeOf|propertyIsEnumerable)$)[a-z][A-Za-z0-9]{0,39}$/
