package reports

import (
	"jetprimer/core/access"
	"jetprimer/core/quantity"
)

// Reader is who a report is made for.
type Reader struct {
	Account string
	Roles   access.Roles
	Units   quantity.Units
	// Reads reports whether they may read a student's record, May whether they may call an
	// operation.
	Reads func(student string) bool
	May   func(operation string) bool
}
