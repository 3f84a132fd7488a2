package calc_test

import (
	"fmt"

	"jetprimer/core/calc"
)

// A hot day with low pressure at 412 ft.
func ExampleRun() {
	answer, _ := calc.Run("altitudes", []byte(`{"elevationFt": 412, "qnhHPa": 996, "oatC": 34}`), calc.Tables{})
	fmt.Println(string(answer[:60]))
	// Output: {"values":{"pressureAltitudeFt":886,"densityAltitudeFt":3244
}
