/// <reference lib="webworker" />
// Loads and compiles the rules for the page, and runs a set of its own for long
// work, so that the page never waits for that.
import './wasm_exec.js'
import wasmURL from './rules.wasm?url'
import { start, type Rules } from './start'

declare const self: DedicatedWorkerGlobalScope

const compiled = fetch(wasmURL).then((response) => WebAssembly.compileStreaming(response))
let own: Promise<Rules> | undefined

self.onmessage = async (message: MessageEvent<{ id: number; name?: string; args?: string[] }>) => {
  const { id, name, args } = message.data
  try {
    const module = await compiled
    if (!name) self.postMessage({ id, module })
    else {
      own ??= start(module)
      self.postMessage({ id, answer: (await own)[name]!(...args!) })
    }
  } catch (e) {
    self.postMessage({ id, failure: e instanceof Error ? e.message : String(e) })
  }
}
