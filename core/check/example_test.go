package check_test

import (
	"encoding/json"
	"fmt"

	"jetprimer/core/check"
)

// A suction of 4.2 inHg is too low for flight by instruments, which is assumed where the
// rules of the flight are not given.
func ExampleRun() {
	answer, err := check.Run("suction", []byte(`{"reading": {"inHg": 4.2}, "limits": {"min": 4.5, "max": 5.5}}`), nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	var v check.Verdict
	_ = json.Unmarshal(answer, &v)
	fmt.Println(v.Outcome, v.Decision, v.Findings[0].Code)

	_, err = check.Run("suction", []byte(`{"reading": {"inHg": "low"}, "limits": {"min": 4.5, "max": 5.5}}`), nil)
	fmt.Println(err)
	// Output:
	// abnormal stop suction-low
	// reading.inHg must be a number in inHg
}
