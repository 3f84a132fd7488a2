import { ref, watch } from 'vue'

const name = 'letter-keys'

/** Whether letters mark; who dictates or uses a reader's own keys turns them off. */
export const letters = ref(localStorage.getItem(name) !== 'off')
watch(letters, (on) => localStorage.setItem(name, on ? 'on' : 'off'))
