package exchange_test

import (
	"errors"
	"strings"
	"testing"

	"jetprimer/core/form"
	"jetprimer/exchange"
	"jetprimer/internal/parsertest"
)

// FuzzFigures: any table gives figures, or an error that names its line.
func FuzzFigures(f *testing.F) {
	f.Add("student,item,instructor,level,scale,stage\na,b,c,3,five,solo\n")
	f.Add("hours;value;reset\n1;2;x\n\n3;4;\n")
	f.Add("\ufeffhours\tvalue\n\"1\n\t2\n")
	f.Fuzz(func(t *testing.T, table string) {
		var grades, readings error
		parsertest.Run(t, []byte(table), func() {
			_, grades = exchange.ReadGrades(strings.NewReader(table))
			_, readings = exchange.ReadReadings(strings.NewReader(table))
		})
		for _, err := range []error{grades, readings} {
			var input form.Problem
			if err != nil && (!errors.As(err, &input) || !strings.HasPrefix(input.Field, "line ")) {
				t.Fatalf("%v", err)
			}
		}
	})
}
