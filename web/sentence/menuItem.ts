/** How an item of a slot's menu looks. */
export const menuItem = 'flex items-center gap-2 px-2 h-8 rounded cursor-pointer outline-none data-[highlighted]:bg-kelp-tint'
