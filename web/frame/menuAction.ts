/** How an item of a menu of actions looks. */
export const menuAction = 'px-3 py-1.5 rounded text-[13px] outline-none cursor-default data-[highlighted]:bg-kelp-tint'
