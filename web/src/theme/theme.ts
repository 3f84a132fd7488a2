import { ref, watchEffect } from 'vue'

export type Theme = 'day' | 'night'

const kept = localStorage.getItem('theme')
const system: Theme = matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'day'

/** The theme in use; a choice is kept on this device. */
export const theme = ref<Theme>(kept === 'day' || kept === 'night' ? kept : system)

watchEffect(() => {
  document.documentElement.dataset.theme = theme.value
})

export function switchTheme() {
  theme.value = theme.value === 'day' ? 'night' : 'day'
  localStorage.setItem('theme', theme.value)
}
