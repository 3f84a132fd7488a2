package exchange

import (
	"bytes"
	"encoding/csv"
	"slices"
	"strings"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/school"
)

// rowsMost bounds a table of people or aircraft.
const rowsMost = 2_000

// rollColumns are those of a table of people, fleetColumns those of a table of
// aircraft; those in front must be there.
var (
	rollColumns  = []string{"name", "email", "roles", "number", "type", "instructor", "since"}
	fleetColumns = []string{"registration", "type", "base", "equipment", "hours", "notes"}
)

const (
	rollNeeds  = 3
	fleetNeeds = 3
)

// ReadRoll reads a table of people. What a student trains on stands in it by the
// type's name or id, the instructor by the address, several roles with spaces
// between. Whether the school can take them is not asked here.
func ReadRoll(name string, data []byte) ([]access.RollEntry, []form.Problem) {
	return sheet(name, data, rollColumns, rollNeeds, func(line int, cell map[string]string) access.RollEntry {
		e := access.RollEntry{
			Line: line,
			Member: access.Member{
				Name: cell["name"], Email: cell["email"], Number: cell["number"],
				Roles: strings.Fields(strings.ToLower(cell["roles"])),
			},
		}
		if cell["type"]+cell["instructor"]+cell["since"] != "" {
			e.Learns = &access.Learns{Type: cell["type"], Instructor: cell["instructor"], StartedOn: cell["since"]}
		}
		return e
	})
}

// WriteRoll gives people as ReadRoll reads them.
func WriteRoll(people []access.RollEntry) ([]byte, error) {
	return writeSheet(rollColumns, people, func(e access.RollEntry) []string {
		l := access.Learns{}
		if e.Learns != nil {
			l = *e.Learns
		}
		return []string{e.Name, e.Email, strings.Join(e.Roles, " "), e.Number, l.Type, l.Instructor, l.StartedOn}
	})
}

// ReadFleet reads a table of aircraft: the type by its name or id, several pieces
// of equipment with spaces between.
func ReadFleet(name string, data []byte) ([]school.FleetEntry, []form.Problem) {
	return sheet(name, data, fleetColumns, fleetNeeds, func(line int, cell map[string]string) school.FleetEntry {
		return school.FleetEntry{Line: line, Hours: cell["hours"],
			Airframe: school.Airframe{Registration: cell["registration"], Type: cell["type"], Base: cell["base"],
				Equipment: strings.Fields(strings.ToLower(cell["equipment"])), Notes: cell["notes"]}}
	})
}

// WriteFleet gives aircraft as ReadFleet reads them.
func WriteFleet(fleet []school.FleetEntry) ([]byte, error) {
	return writeSheet(fleetColumns, fleet, func(e school.FleetEntry) []string {
		return []string{e.Registration, e.Type, e.Base, strings.Join(e.Equipment, " "), e.Hours, e.Notes}
	})
}

// sheet reads a table whose columns stand in any order, each once.
func sheet[T any](name string, data []byte, columns []string, needs int,
	row func(line int, cell map[string]string) T) ([]T, []form.Problem) {
	var mistakes []form.Problem
	wrong := func(line int, format string, args ...any) { report(&mistakes, name, line, format, args...) }
	out, order := []T{}, []string{}
	eachRow(data, rowsMost, wrong, func(head []string) bool {
		for _, title := range head {
			column := strings.ToLower(strings.TrimSpace(title))
			switch {
			case column == "":
			case !slices.Contains(columns, column):
				wrong(1, "column %q is not known; known: %s", form.Clip(title), strings.Join(columns, ", "))
			case slices.Contains(order, column):
				wrong(1, "column %q is there twice", column)
			}
			order = append(order, column)
		}
		for _, need := range columns[:needs] {
			if !slices.Contains(order, need) {
				wrong(1, "has no column %q", need)
			}
		}
		return len(mistakes) == 0
	}, func(line int, cells []string) bool {
		named, blank := map[string]string{}, true
		for i, text := range cells {
			text = strings.TrimSpace(plainCell(text))
			switch {
			case text == "":
			case i >= len(order) || order[i] == "":
				wrong(line, "has %q in a column without a name", form.Clip(text))
			default:
				named[order[i]], blank = text, false
			}
		}
		if !blank {
			out = append(out, row(line, named))
		}
		return len(mistakes) <= maxProblems
	})
	if len(out) == 0 && len(mistakes) == 0 {
		wrong(0, "has no row under its column names")
	}
	return out, mistakes
}

func writeSheet[T any](columns []string, rows []T, cells func(T) []string) ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write(columns)
	for _, r := range rows {
		_ = w.Write(Cells(cells(r)))
	}
	w.Flush()
	return b.Bytes(), w.Error()
}
