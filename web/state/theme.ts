import { create } from 'zustand'
import { safeLocal } from './safeStorage'

export type Theme = 'day' | 'dusk'

const key = 'calm-hand.theme'

export const useTheme = create<{ theme: Theme }>(() => ({ theme: safeLocal.getItem(key) === 'dusk' ? 'dusk' : 'day' }))

export function setTheme(theme: Theme): void {
  safeLocal.setItem(key, theme)
  document.documentElement.dataset.theme = theme
  useTheme.setState({ theme })
}
