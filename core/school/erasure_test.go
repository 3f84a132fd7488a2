package school_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/school"
)

// TestWhoseNameMayGo: somebody who left this school and every other, with nothing
// unsigned, by whoever typed the name.
func TestWhoseNameMayGo(t *testing.T) {
	sound := school.Leaver{Name: "Ode Finch", LeftOn: "2026-01-01"}
	assert.NoError(t, sound.MayErase("Ode Finch"))
	for want, change := range map[string]func(l *school.Leaver){
		"let them go first":   func(l *school.Leaver) { l.Active = true },
		"belongs to another":  func(l *school.Leaver) { l.Elsewhere = 1 },
		"has 2 lessons":       func(l *school.Leaver) { l.Unsigned = 2 },
		"has no name here":    func(l *school.Leaver) { l.Erased = true },
		"is not the person's": func(l *school.Leaver) { l.Name = "Ode Finches" },
	} {
		l := sound
		change(&l)
		assert.ErrorContains(t, l.MayErase("Ode Finch"), want)
	}
}

// TestAPseudonymTellsNobody: it is the same each time, another for another person,
// and holds nothing of the id.
func TestAPseudonymTellsNobody(t *testing.T) {
	a, b := school.Pseudonym("id a"), school.Pseudonym("id b")
	assert.Equal(t, a, school.Pseudonym("id a"))
	assert.NotEqual(t, a, b)
	assert.Regexp(t, `^Former member [0-9A-F]{6}$`, a)
	assert.Regexp(t, `^[0-9a-f]{24}@erased\.invalid$`, school.PseudonymEmail("id a"))
}

// TestNamesAreKeptForSoManyYears: to the day, over a leap day as well.
func TestNamesAreKeptForSoManyYears(t *testing.T) {
	assert.Equal(t, "2036-11-26", school.KeptUntil("2026-11-26", 10))
	assert.Equal(t, "2029-03-01", school.KeptUntil("2028-02-29", 1))
	assert.Empty(t, school.KeptUntil("", 10))
}
