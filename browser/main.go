//go:build js && wasm

// Package main is core for the browser: compiled to WebAssembly it gives a tablet without
// signal the very verdicts that the school's record will hold. It sets one global,
// jetprimerRules, whose functions are those of the bridge: they take and return JSON text.
// The page runs it synchronously; a worker runs another for long work.
package main

import (
	"fmt"
	"runtime/debug"
	"syscall/js"

	"jetprimer/browser/bridge"
)

func main() {
	debug.SetGCPercent(400) // a touch should not wait for the collector; what is live is a few megabytes
	page := &bridge.Bridge{NewID: newID}
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

// newID is a UUID of version 7, of the browser's clock and randomness.
func newID() string {
	ms := uint64(js.Global().Get("Date").Call("now").Float())
	random := js.Global().Get("Uint8Array").New(10)
	js.Global().Get("crypto").Call("getRandomValues", random)
	b := make([]byte, 10)
	js.CopyBytesToGo(b, random)
	return fmt.Sprintf("%08x-%04x-7%03x-%04x-%x", ms>>16, ms&0xffff, (uint16(b[0])<<8|uint16(b[1]))&0xfff,
		(uint16(b[2])<<8|uint16(b[3]))&0x3fff|0x8000, b[4:])
}
