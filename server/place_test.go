package server_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/server/fleet"
	"jetprimer/server/schools"
)

// TestTheSchoolItself: another name and zone hold at once, a base is added and
// changed with its aircraft, and what cannot be is refused with its field.
func TestTheSchoolItself(t *testing.T) {
	url := start(t)
	chief := as(t, url, demo.Ferreira)
	got[any](t, chief, "PUT", "/api/v1/place", `{"name":" Tarn  Hollow Flying ","timeZone":"Pacific/Auckland"}`)
	session := got[struct{ School, Zone, Today string }](t, chief, "GET", "/api/v1/session", "")
	assert.Equal(t, []string{"Tarn Hollow Flying", "Pacific/Auckland", "2026-11-25"},
		[]string{session.School, session.Zone, session.Today})
	base := func(id, elevation, heading string) string {
		return `{"id":"` + id + `","name":"Fen Row","elevationFt":` + elevation + `,"variationDegEast":-2,"runways":[{"name":"09","headingDegMagnetic":` + heading + `,"lengthM":700,"surface":"grass"}],"climate":{"meanC":0,"yearSwingC":0,"daySwingC":0,"windFromDeg":0,"windKt":0,"spreadC":0}}`
	}
	got[any](t, chief, "PUT", "/api/v1/place/bases", base("xfrw", "61", "92"))
	got[any](t, chief, "PUT", "/api/v1/place/bases", base("XSTB", "22", "92"))
	view := got[schools.Place](t, chief, "GET", "/api/v1/place", "")
	require.Len(t, view.Bases, 3)
	assert.Equal(t, "XFRW", view.Bases[0].ID)
	assert.NotZero(t, view.Bases[0].Climate)
	for _, a := range got[fleet.FleetView](t, chief, "GET", "/api/v1/aircraft", "").Aircraft {
		if a.Base == "XSTB" {
			assert.Equal(t, 22, a.ElevationFt, "its aircraft stand as high")
		}
	}
	for path, bodies := range map[string]map[string]string{
		"/api/v1/place": {
			`{"name":"","timeZone":"UTC"}`:         "name must not be empty",
			`{"name":"X","timeZone":"Mars/North"}`: "timeZone must be",
			`{"name":"X","timeZone":"Local"}`:      "timeZone must be",
		},
		"/api/v1/place/bases": {
			base("X", "61", "92"):       "base.id must be",
			base("XFRW", "61", "270"):   "base.runways[0].headingDegMagnetic is 270",
			base("XFRW", "90000", "92"): "base.elevationFt must be",
		},
	} {
		for body, want := range bodies {
			status, text := chief.call("PUT", path, body)
			assert.Equal(t, 422, status, body)
			assert.Contains(t, text, want)
		}
	}
}
