import { ref, watch } from 'vue'

const name = 'letter-keys'

/** Whether letters mark; who dictates or uses a reader's own keys turns them off. */
export const letters = ref(localStorage.getItem(name) !== 'off')
watch(letters, (on) => localStorage.setItem(name, on ? 'on' : 'off'))

/** The box of the first number that is missing. */
export const missingBox = () => document.querySelector<HTMLInputElement>('.boxes input[data-missing]')
/** The box that typing begins in: the first that is missing, else the first of all. */
export const firstBox = () =>
  missingBox() ?? document.querySelector<HTMLInputElement>('.boxes input:not(:disabled)')

/** Whether a key begins a number. While an answer is shown, or its levels are, 1 to 4 grade it. */
export function beginsNumber(key: string) {
  const levels = [...document.querySelectorAll<HTMLElement>('[data-oral]')].some((b) => b.offsetParent)
  const grading = levels || document.querySelector('.oral .answer') !== null
  return /^[0-9.,-]$/.test(key) && !(grading && /^[1-4]$/.test(key))
}
