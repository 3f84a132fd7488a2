//go:build !race

package demotest

import "jetprimer/demo"

var fill = demo.Load
