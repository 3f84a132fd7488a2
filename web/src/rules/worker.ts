/// <reference lib="webworker" />
// Loads and compiles the rules for the page, and runs a set of its own for long
// work, so that the page never waits for that.
import './wasm_exec.js'
import lessonURL from './lesson.wasm?url'
import rulesURL from './rules.wasm?url'
import { start, type Module, type Rules } from './start'

declare const self: DedicatedWorkerGlobalScope

const urls: Record<Module, string> = { lesson: lessonURL, rules: rulesURL }
const compiled: Partial<Record<Module, Promise<WebAssembly.Module>>> = {}
const compile = (name: Module) =>
  (compiled[name] ??= fetch(urls[name])
    .then((response) => WebAssembly.compileStreaming(response))
    .catch((e: unknown) => {
      delete compiled[name]
      throw e
    }))
let own: Promise<Rules> | undefined

type Asked = { id: number; module?: Module; name?: string; args?: string[] }

self.onmessage = async (message: MessageEvent<Asked>) => {
  const { id, module, name, args } = message.data
  try {
    if (module) self.postMessage({ id, module: await compile(module) })
    else {
      own ??= compile('rules').then(start)
      self.postMessage({ id, answer: (await own)[name!]!(...args!) })
    }
  } catch (e) {
    self.postMessage({ id, failure: e instanceof Error ? e.message : String(e) })
  }
}
