/// <reference lib="webworker" />
// Holds the open lesson, decoded, in core compiled to WebAssembly.
import './wasm_exec.js'
import wasmURL from './rules.wasm?url'

type Rules = Record<string, (...args: string[]) => string>
type GoRuntime = { importObject: WebAssembly.Imports; run(instance: WebAssembly.Instance): Promise<void> }

declare const self: DedicatedWorkerGlobalScope & {
  jetprimerRules: Rules
  Go: new () => GoRuntime
}

const ready = (async () => {
  const go = new self.Go()
  const response = await fetch(wasmURL)
  const { instance } = await WebAssembly.instantiate(await response.arrayBuffer(), go.importObject)
  void go.run(instance)
})()

self.onmessage = async (message: MessageEvent<{ id: number; name: string; args: string[] }>) => {
  const { id, name, args } = message.data
  try {
    await ready
    self.postMessage({ id, answer: self.jetprimerRules[name]!(...args) })
  } catch (e) {
    self.postMessage({ id, answer: JSON.stringify({ error: String(e) }) })
  }
}
