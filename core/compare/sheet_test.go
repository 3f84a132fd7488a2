package compare_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/compare"
)

// TestASheetSaysWhoIsStrict: one strict and one soft instructor among eight stand
// out in order and in words, and are told to fly together; a strict one with weak
// students is not called so for them.
func TestASheetSaysWhoIsStrict(t *testing.T) {
	s := simulated(11, 120, 30, 6)
	copy(s.severity, []float64{1.2, -1.2, 0, 0, 0, 0})
	for student := range s.ability {
		s.ability[student] = 0.5
		if student < 40 {
			s.ability[student] = -1.5
		}
		for item := range s.difficulty {
			by := (student + item) % 6
			if student < 40 { // the weak fly with the third, and now and then with another
				if by = 2; item%5 == 0 {
					by = (student + item/5) % 6
				}
			}
			s.grade(student, item, by)
		}
	}
	names := map[string]string{
		"t00": "Stern", "t01": "Mild", "t02": "Patient", "t03": "Even", "t04": "Calm", "t05": "Plain",
	}
	sheet := compare.SheetOf(fit(t, s.grades), s.grades, names)
	line := func(name string) (l compare.Line) {
		for _, l := range sheet.Lines {
			if l.Name == name {
				return l
			}
		}
		t.Fatal(name)
		return l
	}
	assert.Equal(t, []string{"stricter"}, line("Stern").Stands)
	assert.Equal(t, []string{"softer"}, line("Mild").Stands)
	assert.Less(t, line("Patient").Mean, line("Even").Mean-0.5,
		"as graded, the one with the weak students looks strict")
	assert.NotContains(t, line("Patient").Stands, "stricter")
	require.Len(t, sheet.CoGrade, 1)
	assert.Equal(t, [2]string{"Stern", "Mild"}, [2]string{sheet.CoGrade[0].Instructor.Name, sheet.CoGrade[0].With.Name})
	assert.Regexp(t, `What Stern grades \d\.\d, most here grade \d\.\d\.`, strings.Join(sheet.Words, " "))
	for i := range sheet.School {
		assert.LessOrEqual(t, line("Stern").Curve[i], sheet.School[i])
		if i > 0 {
			assert.GreaterOrEqual(t, sheet.School[i], sheet.School[i-1])
		}
	}

	own := sheet.For("t03")
	require.Len(t, own.Lines, 1)
	assert.Equal(t, "Even", own.Lines[0].Name)
	assert.Empty(t, own.CoGrade)
	assert.Equal(t, []string{"Your line does not leave the school’s middle."}, own.Words)
	assert.Empty(t, compare.SheetOf(fit(t, nil), nil, nil).Words)
}
