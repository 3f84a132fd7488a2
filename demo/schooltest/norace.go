//go:build !race

package schooltest

import "jetprimer/demo"

var fill = demo.Load
