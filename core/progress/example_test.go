package progress_test

import (
	"fmt"

	"jetprimer/core/progress"
)

// After four times right a thing has a half-life of two to the third, eight days: half is
// known after eight.
func ExampleForgetting_Known() {
	f := progress.Forgetting{Base: 1, Right: 1, Wrong: 0}
	fmt.Printf("%.2f %.2f\n", f.HalfLife(3, 0), f.Known(3, 0, 8))
	// Output: 8.00 0.50
}
