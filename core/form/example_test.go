package form_test

import (
	"errors"
	"fmt"

	"jetprimer/core/form"
)

// A problem keeps where it stands while it is passed on.
func ExampleUnder() {
	err := form.Under("students[3].", form.Bad("email", "is no address: %q", "lena"))
	var p form.Problem
	if errors.As(err, &p) {
		fmt.Println(p.Field)
	}
	fmt.Println(err)
	// Output:
	// students[3].email
	// students[3].email is no address: "lena"
}
