package exchange_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/access"
	"jetprimer/core/school"
	"jetprimer/exchange"
	"jetprimer/internal/parsertest"
)

// cell is a text as a cell of a table of people holds it: what stands around it
// is no part of it.
var cell = rapid.Custom(func(t *rapid.T) string {
	s := rapid.StringOfN(rapid.SampledFrom([]rune("aZ9 ,;\t\"'=+-@ø\nß—")), 0, 12, -1).Draw(t, "cell")
	return strings.TrimSpace(s)
})

// TestPeopleComeBackFromTheirTable: whatever stands in it, formulas for a
// spreadsheet among it, each in its column and line.
func TestPeopleComeBackFromTheirTable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var people []access.RollEntry
		for range rapid.IntRange(1, 5).Draw(t, "people") {
			e := access.RollEntry{Member: access.Member{Name: "n" + cell.Draw(t, "name"), Email: cell.Draw(t, "email"),
				Number: cell.Draw(t, "number"),
				Roles:  rapid.SliceOfN(rapid.SampledFrom(access.EveryRole), 0, 3).Draw(t, "roles")}}
			if rapid.Bool().Draw(t, "learns") {
				e.Learns = &access.Learns{
					Type: "t" + cell.Draw(t, "type"), Instructor: cell.Draw(t, "instructor"),
					StartedOn: cell.Draw(t, "since"),
				}
			}
			people = append(people, e)
		}
		data, err := exchange.WriteRoll(people)
		require.NoError(t, err)
		back, mistakes := exchange.ReadRoll("people.csv", data)
		require.Empty(t, mistakes)
		require.Len(t, back, len(people))
		line := 1
		for i, e := range back {
			assert.Greater(t, e.Line, line)
			line, e.Line = e.Line, 0
			assert.Equal(t, people[i].Name, e.Name)
			assert.Equal(t, people[i].Number, e.Number)
			assert.Equal(t, strings.Join(people[i].Roles, " "), strings.Join(e.Roles, " "))
			assert.Equal(t, people[i].Learns, e.Learns)
		}
	})
}

// TestAircraftComeBackFromTheirTable: the same of aircraft, notes of several
// lines among it.
func TestAircraftComeBackFromTheirTable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var fleet []school.FleetEntry
		for range rapid.IntRange(1, 5).Draw(t, "aircraft") {
			fleet = append(fleet,
				school.FleetEntry{Hours: cell.Draw(t, "hours"),
					Airframe: school.Airframe{Registration: "r" + cell.Draw(t, "registration"),
						Type: cell.Draw(t, "type"),
						Base: cell.Draw(t, "base"), Notes: cell.Draw(t, "notes"),
						Equipment: rapid.SliceOfN(rapid.SampledFrom([]string{
							"autopilot", "second-altimeter",
						}), 0, 2).Draw(t, "equipment")}})
		}
		data, err := exchange.WriteFleet(fleet)
		require.NoError(t, err)
		back, mistakes := exchange.ReadFleet("aircraft.csv", data)
		require.Empty(t, mistakes)
		require.Len(t, back, len(fleet))
		for i, e := range back {
			assert.Equal(t, fleet[i].Hours, e.Hours)
			assert.Equal(t, fleet[i].Notes, e.Notes)
			assert.Equal(t, fleet[i].Registration, e.Registration)
			assert.Equal(t, fleet[i].Type+"|"+fleet[i].Base, e.Type+"|"+e.Base)
			assert.Equal(t, strings.Join(fleet[i].Equipment, " "), strings.Join(e.Equipment, " "))
		}
	})
}

// TestATableAsASpreadsheetSavesIt: any separator, a mark in front, columns in any
// order and case, empty rows and columns between.
func TestATableAsASpreadsheetSavesIt(t *testing.T) {
	for name, text := range map[string]string{
		"commas":                 "name,email,roles\nVera,vera@x.example,student\n",
		"semicolons and a mark":  "\ufeffName;Email;Roles\r\nVera;vera@x.example;student\r\n",
		"tabs":                   "roles\tname\temail\nstudent\tVera\tvera@x.example",
		"another order":          "email,roles,number,name\nvera@x.example,STUDENT,,Vera\n",
		"empty rows and columns": "name,,email,roles\n\n,,,\nVera,,vera@x.example,student\n  ,,,\n",
		"quoted":                 "\"name\",\"email\",\"roles\"\n\"Vera\",\"vera@x.example\",\" student \"\n",
	} {
		people, mistakes := exchange.ReadRoll("people.csv", []byte(text))
		require.Empty(t, mistakes, name)
		require.Len(t, people, 1, name)
		assert.Equal(t, access.Member{Name: "Vera", Email: "vera@x.example", Roles: access.Roles{"student"}},
			people[0].Member, name)
	}
}

// TestATableThatCannotBeRead: why, and in which line.
func TestATableThatCannotBeRead(t *testing.T) {
	for text, want := range map[string]string{
		"":                               "people.csv:1: has no row of column names",
		"name,email":                     `people.csv:1: has no column "roles"`,
		"name,email,roles":               "people.csv:0: has no row under its column names",
		"name,email,roles,name\n":        `people.csv:1: column "name" is there twice`,
		"name,email,roles,shoe\n":        `people.csv:1: column "shoe" is not known; known: name, email, roles, number, type, instructor, since`,
		"name,email,roles\na,b,c,d\n":    `people.csv:2: has "d" in a column without a name`,
		"name,,email,roles\na,x,b,c\n":   `people.csv:2: has "x" in a column without a name`,
		"name,email,roles\n\"a,b,c\n":    `people.csv:2: extraneous or missing " in quoted-field`,
		"name,email,roles\na\xff,b,c\n":  "people.csv:0: is not UTF-8 text",
		strings.Repeat("c,", 70) + "c\n": "people.csv:1: has 71 columns; 64 are allowed",
		"name,email,roles\n" +
			strings.Repeat("a,b,student\n", 2001): "people.csv:2002: has more than 2000 rows",
		"name,email,roles\n" + strings.Repeat("n", 257<<10) +
			",b,student\n": "people.csv:2: has more than 262144 bytes",
	} {
		_, mistakes := exchange.ReadRoll("people.csv", []byte(text))
		require.NotEmpty(t, mistakes, text[:min(len(text), 60)])
		assert.Contains(t, mistakes[0].Error(), want)
	}
	wrong := "name,email,roles\n" + strings.Repeat("a,b,student,extra\n", 1000)
	_, mistakes := exchange.ReadRoll("people.csv", []byte(wrong))
	assert.Less(t, len(mistakes), 300, "nobody reads a thousand")
}

// FuzzReadSheet: any bytes are read or refused within bounds; what is read has
// lines that grow, and no table beyond its bounds.
func FuzzReadSheet(f *testing.F) {
	for _, seed := range []string{
		"name,email,roles\nVera,vera@x.example,student\n", "registration;type;base\nQZ-AAA;alder-110;XTHW\n",
		"\ufeffname\temail\troles\n\"a\nb\"\tc\td", "'=name,email,roles\n", "\"", "",
	} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		parsertest.Run(t, data, func() {
			people, mistakes := exchange.ReadRoll("people.csv", data)
			fleet, more := exchange.ReadFleet("aircraft.csv", data)
			if len(people)+len(mistakes) == 0 || len(fleet)+len(more) == 0 {
				t.Error("neither a row nor a reason")
			}
			if len(people) > 2000 || len(fleet) > 2000 {
				t.Error("more rows than are allowed")
			}
			last := 1
			for _, e := range people {
				if e.Line <= last {
					t.Errorf("line %d after %d", e.Line, last)
				}
				last = e.Line
			}
		})
	})
}
