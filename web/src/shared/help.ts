import { reactive } from 'vue'

/** Whether help stands beside the place, and at which page of the guide; empty for that of the place. */
export const help = reactive({ open: false, page: '' })
