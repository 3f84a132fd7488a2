// Package parsertest bounds the time and the memory that a test's input may take, for
// tests and fuzz targets of parsers.
package parsertest

import (
	"runtime"
	"testing"
	"time"
)

const (
	// Longest is what an input may take. It is far above what any does, so that
	// a slow machine does not fail, and far below what growth without end takes.
	Longest = 5 * time.Second
	// Most is what may be allocated for an input, in bytes, and PerByte what each
	// byte of it adds.
	Most    = 64 << 20
	PerByte = 2000
	// Input is the longest input that is tried, in bytes.
	Input = 1 << 20
)

// Run does the work for an input, and fails when it takes longer or more than
// it may. Longer inputs than Input are left out.
func Run(t testing.TB, input []byte, work func()) {
	t.Helper()
	if len(input) > Input {
		t.Skip("longer than any input that is tried")
	}
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	begun := time.Now()
	work()
	took := time.Since(begun)
	runtime.ReadMemStats(&after)
	if took > Longest {
		t.Errorf("%d bytes took %s", len(input), took)
	}
	if spent := after.TotalAlloc - before.TotalAlloc; spent > Most+PerByte*uint64(len(input)) {
		t.Errorf("%d bytes made %d bytes be allocated", len(input), spent)
	}
}
