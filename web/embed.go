// Package web carries the built screens inside the program.
package web

import "embed"

// Dist is what the web build made; a fresh clone holds a placeholder only.
//
//go:embed all:dist
var Dist embed.FS
