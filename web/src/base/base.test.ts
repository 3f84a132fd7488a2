import { createApp, h, nextTick, ref, type Component } from 'vue'
import { expect, it } from 'vitest'

import AppButton from './AppButton.vue'
import AppCheck from './AppCheck.vue'
import AppInput from './AppInput.vue'
import AppSelect from './AppSelect.vue'

/** Draws something on a page, and gives its first element. */
function drawn<T extends HTMLElement>(draw: () => ReturnType<typeof h>): T {
  const root = document.createElement('div')
  document.body.append(root)
  createApp({ render: draw }).mount(root)
  return root.firstElementChild as T
}
const types = (el: HTMLInputElement, text: string) => {
  el.value = text
  el.dispatchEvent(new Event('input'))
}

it('submits a form only where it says so', () => {
  expect(drawn<HTMLButtonElement>(() => h(AppButton, { class: 'quiet' }, () => 'Look')).type).toBe('button')
  expect(drawn<HTMLButtonElement>(() => h(AppButton, { type: 'submit' })).type).toBe('submit')
})

it('gives a number where one is asked for, and what stands in the box where it is none', () => {
  const value = ref<string | number>(3)
  const box = drawn<HTMLInputElement>(() =>
    h(AppInput, { type: 'number', modelValue: value.value, 'onUpdate:modelValue': (v) => (value.value = v) }),
  )
  expect(box.value).toBe('3')
  types(box, '4.5')
  expect(value.value).toBe(4.5)
  types(box, '')
  expect(value.value).toBe('')
})

it('leaves what is being typed to whoever gives the value and takes it when it is done', async () => {
  const other = ref(0)
  const taken: string[] = []
  const box = drawn<HTMLInputElement>(() =>
    h(AppInput, {
      value: '10',
      onChange: (e: Event) => taken.push((e.target as HTMLInputElement).value),
      'data-n': other.value,
    }),
  )
  types(box, '12')
  expect(box.value).toBe('12')
  box.dispatchEvent(new Event('change'))
  expect(taken).toEqual(['12'])
})

it('chooses what its options hold, numbers among them', async () => {
  const chosen = ref(2)
  const options = () => [1, 2].map((n) => h('option', { value: n }, n))
  const props = () => ({ modelValue: chosen.value, 'onUpdate:modelValue': (v: number) => (chosen.value = v) })
  const list = drawn<HTMLSelectElement>(() => h(AppSelect as Component, props(), options))
  await nextTick()
  expect(list.selectedIndex).toBe(1)
  list.selectedIndex = 0
  list.dispatchEvent(new Event('change'))
  expect(chosen.value).toBe(1)
})

it('ticks', () => {
  const on = ref<boolean | undefined>(false)
  const box = drawn<HTMLInputElement>(() =>
    h(AppCheck, { modelValue: on.value, 'onUpdate:modelValue': (v: boolean | undefined) => (on.value = v) }),
  )
  box.click()
  expect(on.value).toBe(true)
})
