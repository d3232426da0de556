/** How a report asks: behind all that somebody waits for under a hand. */
export const aside = { lane: 'study', rank: 1 } as const
