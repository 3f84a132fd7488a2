package school_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/school"
)

// TestPlacesAndDays: what a school is called, where its day is told, and days as
// they are written.
func TestPlacesAndDays(t *testing.T) {
	for _, zone := range []string{"UTC", "Europe/Dublin", "Pacific/Auckland", "Etc/GMT+5"} {
		assert.NoError(t, school.CheckPlace("Fen Row", zone), zone)
	}
	for _, zone := range []string{"", "Local", "Mars/North", "../zone", "europe dublin"} {
		assert.ErrorContains(t, school.CheckPlace("Fen Row", zone), "timeZone must be", zone)
	}
	for _, name := range []string{"", "\t", strings.Repeat("n", 101), "Fen\x00Row"} {
		assert.ErrorContains(t, school.CheckPlace(name, "UTC"), "name must", name)
	}
	for _, day := range []string{"", "2026-11-26", "2028-02-29"} {
		assert.NoError(t, school.CheckDay("from", day), day)
	}
	for _, day := range []string{"2026-02-29", "26.11.2026", "2026-11-26T00:00:00Z", "soon", "2026-1-1"} {
		assert.ErrorContains(t, school.CheckDay("from", day), "from must be a day", day)
	}
}
