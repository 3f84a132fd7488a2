package access_test

import (
	"fmt"

	"jetprimer/core/access"
)

// Each role gives what it gives: who teaches and looks after the school does both.
func ExampleRoles_Any() {
	both := access.Roles{access.Instructor, access.Admin}
	fmt.Println(both.Any(access.Teaching), both.Any(access.Governing), both.Any(access.Maintainers))
	// Output: true true false
}
