package checklist_test

import (
	"fmt"

	"jetprimer/core/checklist"
)

// Of five items done in the order 0, 2, 1, 3, 4 the late one is named, and no other.
func ExampleOutOfOrder() {
	fmt.Println(checklist.OutOfOrder([]int{0, 2, 1, 3, 4}, false))
	// Output: [false false true false false]
}

func ExampleWhenWords() {
	fmt.Println(checklist.WhenWords("not (night or rules is IFR)"))
	// Output: it is day and rules are not IFR
}
