package school_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/form"
	"jetprimer/core/school"
)

func hangar() school.Hangar {
	hours := 4120.5
	return school.Hangar{Bases: []string{"XTHW", "XSTB"},
		Types:     map[string]string{"alder-110": "alder-110", "alder 110": "alder-110", "larch-d2": "larch-d2"},
		Equipment: map[string][]string{"alder-110": {"second-altimeter", "carbon-monoxide-alarm"}},
		Aircraft: map[string]school.KnownAirframe{
			"QZ-AAA": {
				Airframe: school.Airframe{
					Registration: "QZ-AAA", Type: "alder-110", Base: "XTHW",
					Equipment: []string{"second-altimeter", "carbon-monoxide-alarm"}, Hours: &hours,
					Notes: "new tyres",
				},
			},
			"QZ-OLD": {Airframe: school.Airframe{Registration: "QZ-OLD", Type: "alder-110", Base: "XTHW"},
				Retired: true}}}
}

// TestWhatARowOfAircraftComesTo: what it adds and changes, hours to a tenth, and
// each thing that cannot be by its column.
func TestWhatARowOfAircraftComesTo(t *testing.T) {
	row := func(registration, typ, base, equipment, hours, notes string) school.FleetEntry {
		return school.FleetEntry{
			Line: 3, Hours: hours,
			Airframe: school.Airframe{
				Registration: registration, Type: typ, Base: base, Equipment: strings.Fields(equipment), Notes: notes,
			},
		}
	}
	for name, c := range map[string]struct {
		row     school.FleetEntry
		comes   string
		changes []string
		columns []string
	}{
		"a new one": {
			row("qz-new", "Alder 110", "xthw", "second-altimeter", "12.5", ""), form.RowNew, nil, nil,
		},
		"as it is": {
			row("QZ-AAA", "alder-110", "XTHW", "carbon-monoxide-alarm second-altimeter", "4120.5", "new tyres"),
			form.RowSame, nil, nil,
		},
		"no hours said": {
			row("QZ-AAA", "alder-110", "XTHW", "carbon-monoxide-alarm second-altimeter", "", "new tyres"), form.RowSame,
			nil, nil,
		},
		"changed all over": {
			row("QZ-AAA", "alder-110", "XSTB", "", "4121", ""), form.RowChanges,
			[]string{"base", "equipment", "hours", "notes"}, nil,
		},
		"of another type": {
			row("QZ-AAA", "larch-d2", "XTHW", "", "", ""), form.RowRefused, []string{"equipment", "notes"},
			[]string{"type"},
		},
		"retired": {
			row("QZ-OLD", "alder-110", "XTHW", "", "", ""), form.RowRefused, nil, []string{"registration"},
		},
		"of no type": {
			row("QZ-NEW", "oak", "XTHW", "anything", "", ""), form.RowRefused, nil, []string{"type"},
		},
		"of no base": {row("QZ-NEW", "alder-110", "XXXX", "", "", ""), form.RowRefused, nil, []string{"base"}},
		"what it cannot have": {
			row("QZ-NEW", "alder-110", "XTHW", "rescue-parachute second-altimeter", "", ""), form.RowRefused, nil,
			[]string{"equipment"},
		},
		"the same thing twice": {
			row("QZ-NEW", "alder-110", "XTHW", "second-altimeter second-altimeter", "", ""), form.RowRefused, nil,
			[]string{"equipment"},
		},
		"hours to a hundredth": {
			row("QZ-NEW", "alder-110", "XTHW", "", "12.34", ""), form.RowRefused, nil, []string{"hours"},
		},
		"hours that may be thousands": {
			row("QZ-NEW", "alder-110", "XTHW", "", "12,500", ""), form.RowRefused, nil, []string{"hours"},
		},
		"hours below nothing": {
			row("QZ-NEW", "alder-110", "XTHW", "", "-1", ""), form.RowRefused, nil, []string{"hours"},
		},
		"hours beyond any": {
			row("QZ-NEW", "alder-110", "XTHW", "", "100000", ""), form.RowRefused, nil, []string{"hours"},
		},
		"a novel": {
			row("QZ-NEW", "alder-110", "XTHW", "", "", strings.Repeat("n", 2001)), form.RowRefused, nil,
			[]string{"notes"},
		},
		"no registration": {row("", "alder-110", "XTHW", "", "", ""), form.RowRefused, nil, []string{"registration"}},
		"a dash at the end": {
			row("QZ-", "alder-110", "XTHW", "", "", ""), form.RowRefused, nil, []string{"registration"},
		},
	} {
		j := hangar().Judge([]school.FleetEntry{c.row})[0]
		assert.Equal(t, c.comes, j.ComesTo, "%s: %+v", name, j.Problems)
		assert.Equal(t, append([]string{}, c.changes...), j.Changes, name)
		columns := []string{}
		for _, f := range j.Problems {
			columns = append(columns, f.Field)
			assert.NotEmpty(t, f.Reason, name)
		}
		assert.Equal(t, append([]string{}, c.columns...), columns, name)
	}
	twice := hangar().Judge([]school.FleetEntry{
		row("QZ-NEW", "alder-110", "XTHW", "", "", ""), row("qz-new", "alder-110", "XTHW", "", "", ""),
	})
	assert.Equal(t, []form.Problem{{Field: "registration", Reason: "stands in line 3 already"}}, twice[1].Problems)
	assert.Equal(t, 12.5,
		*hangar().Judge([]school.FleetEntry{row("QZ-NEW", "alder-110", "XTHW", "", "12.5", "")})[0].Airframe.Hours)
	for _, h := range []float64{math.NaN(), math.Inf(1), 0.05} {
		assert.Error(t, school.Airframe{Registration: "QZ-AAA", Hours: &h}.Check(), h)
	}
}
