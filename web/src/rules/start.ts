// Starts the compiled rules where it is called: in the page or in the worker.
export type Rules = Record<string, (...args: string[]) => string>
/** What a lesson takes, or everything: the practice stand and the editors besides. */
export type Module = 'lesson' | 'rules'
type GoRuntime = { importObject: WebAssembly.Imports; run(instance: WebAssembly.Instance): Promise<void> }

export async function start(module: WebAssembly.Module): Promise<Rules> {
  const host = globalThis as unknown as { Go: new () => GoRuntime; jetprimerRules: Rules }
  const go = new host.Go()
  const instance = await WebAssembly.instantiate(module, go.importObject)
  void go.run(instance)
  return host.jetprimerRules
}
