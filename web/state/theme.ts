import { create } from 'zustand'

export type Theme = 'day' | 'dusk'

const key = 'calm-hand.theme'

export const useTheme = create<{ theme: Theme }>(() => ({ theme: localStorage.getItem(key) === 'dusk' ? 'dusk' : 'day' }))

export function setTheme(theme: Theme): void {
  localStorage.setItem(key, theme)
  document.documentElement.dataset.theme = theme
  useTheme.setState({ theme })
}
