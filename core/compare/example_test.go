package compare_test

import (
	"fmt"

	"jetprimer/core/compare"
)

// A magneto drop that grows by a tenth of a revolution an hour, with its limit at 130: the
// weighted average, which lags behind the readings, meets it in 239 hours.
func ExampleTrendOf() {
	var readings []compare.Reading
	for hour := 0.0; hour <= 200; hour += 10 {
		readings = append(readings, compare.Reading{Hours: hour, Value: 90 + hour/10})
	}
	t := compare.TrendOf(readings, 130, compare.Above)
	fmt.Println(*t.SlopePerHour, *t.HoursToLimit)
	// Output: 0.1 239
}
