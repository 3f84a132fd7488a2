package quantity_test

import (
	"fmt"

	"jetprimer/core/quantity"
)

// A voltage is read to a tenth: the drop is exact, as 12.4 − 12.1 in floating point is not.
func Example() {
	before, _ := quantity.Parse("12.4", 1)
	after, _ := quantity.Parse("12.1", 1)
	drop := before.Sub(after)
	fmt.Println(drop, drop.Above(quantity.Scaled(3, 1)))
	// Output: 0.3 false
}

func ExampleUnits_Say() {
	american := quantity.Units{Temperature: "°F", Pressure: "inHg"}
	fmt.Println(american.Say("The air has 5 °C; set 1013 hPa."))
	// Output: The air has 41 °F; set 29.91 inHg.
}
