/** Reads something of the theme of the day, which is that of paper, whatever theme the page has. */
export function onPaper<Read>(read: (element: HTMLElement) => Read): Read {
  const day = document.createElement('div')
  day.dataset.theme = 'day'
  document.body.append(day)
  const found = read(day)
  day.remove()
  return found
}
