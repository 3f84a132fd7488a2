//go:build js && wasm

// Package main is core for the browser: compiled to WebAssembly it gives a tablet without
// signal the very verdicts that the school's record will hold. It sets one global,
// jetprimerRules, whose functions are those of the bridge: they take and return JSON text.
// The page runs it synchronously; a worker runs another for long work.
package main

import (
	"runtime/debug"
	"syscall/js"

	"jetprimer/browser/bridge"
)

func main() {
	debug.SetGCPercent(400) // a touch should not wait for the collector; what is live is a few megabytes
	page := &bridge.Bridge{}
	functions := map[string]any{}
	for _, f := range bridge.Functions() {
		functions[f.Name] = js.FuncOf(func(_ js.Value, values []js.Value) any {
			args := make([]string, len(values))
			for i, v := range values {
				args[i] = v.String()
			}
			return page.Ask(f, args)
		})
	}
	js.Global().Set("jetprimerRules", js.ValueOf(functions))
	select {}
}
