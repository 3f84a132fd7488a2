package server_test

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/school"
	"jetprimer/core/weather"
	"jetprimer/demo"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

type tableRead struct {
	Rows     []form.Row
	Problems []struct {
		Line   int
		Reason string
	}
}

type tableTaken struct {
	New, Changed int
	Invited      []struct{ Name, Path, Code string }
}

// takes gives the body that takes a table.
func takes(table string, aside ...int) string {
	body, _ := json.Marshal(map[string]any{"name": "people.csv", "table": table, "aside": append([]int{}, aside...)})
	return string(body)
}

// TestThreeHundredPeopleFromATable: twelve rows are wrong, each told with its
// line and column; nothing is taken until they are right or set aside.
func TestThreeHundredPeopleFromATable(t *testing.T) {
	url := start(t)
	chief := as(t, url, demo.Ferreira)
	wrong := map[int][2]string{ // by row: the row, and the column that is named
		7:   {";w7@school.example;student;;alder-110;tunde@tarnhollow.example;2026-11-01", "name"},
		19:  {"Wrong 19;w19;student;;alder-110;tunde@tarnhollow.example;2026-11-01", "email"},
		42:  {"Wrong 42;w42@school.example;pilot;;;;", "roles"},
		77:  {"Wrong 77;w77@school.example;student;;;;", "type"},
		101: {"Wrong 101;w101@school.example;student;;oak-9;tunde@tarnhollow.example;2026-11-01", "type"},
		120: {"Wrong 120;w120@school.example;student;;alder-110;bo@tarnhollow.example;2026-11-01", "instructor"},
		150: {"Wrong 150;w150@school.example;student;;alder-110;nobody@school.example;2026-11-01", "instructor"},
		180: {"Wrong 180;w180@school.example;student;;alder-110;tunde@tarnhollow.example;1.11.2026", "since"},
		200: {"Wrong 200;p1@school.example;student;;alder-110;tunde@tarnhollow.example;2026-11-01", "email"},
		222: {"Wrong 222;w222@school.example;instructor;;alder-110;tunde@tarnhollow.example;2026-11-01", "type"},
		250: {"Wrong 250;w250@school.example;maintenance;" + strings.Repeat("9", 41) + ";;;", "number"},
		299: {"Wrong 299;w299@school.example;;;;;", "roles"},
	}
	rows := []string{"Name;Email;Roles;Number;Type;Instructor;Since"}
	for i := 1; i <= 300; i++ {
		row := fmt.Sprintf("Person %d;p%d@school.example;student;S-%d;Alder 110;TUNDE@tarnhollow.example;2026-11-01", i,
			i, i)
		if w, is := wrong[i]; is {
			row = w[0]
		}
		rows = append(rows, row)
	}
	table := strings.Join(rows, "\r\n")
	read := got[tableRead](t, chief, "POST", "/api/v1/people/table?name=people.csv", table)
	require.Empty(t, read.Problems)
	require.Len(t, read.Rows, 300)
	var aside []int
	for i, r := range read.Rows {
		require.Equal(t, i+2, r.Line)
		w, is := wrong[i+1]
		if !is {
			assert.Equal(t, form.RowNew, r.ComesTo, "%+v", r)
			continue
		}
		assert.Equal(t, form.RowRefused, r.ComesTo, w[0])
		assert.True(t, slices.ContainsFunc(r.Problems, func(f form.Problem) bool { return f.Field == w[1] }), "%s: %+v",
			w[0], r.Problems)
		aside = append(aside, r.Line)
	}
	status, text := chief.call("POST", "/api/v1/people/table/take", takes(table, aside[1:]...))
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "Nothing was taken")
	assert.Contains(t, text, "table:8: name must not be empty")
	people := func() int {
		return len(got[struct{ Invitations []any }](t, chief, "GET", "/api/v1/people", "").Invitations)
	}
	before := people()
	done := got[tableTaken](t, chief, "POST", "/api/v1/people/table/take", takes(table, aside...))
	assert.Equal(t, []int{288, 0, 288}, []int{done.New, done.Changed, len(done.Invited)})
	assert.Equal(t, before+288, people())
	joined := visitor(t, url)
	at := "/api/v1" + done.Invited[5].Path
	got[any](t, joined, "POST", at+"/enter",
		fmt.Sprintf(`{"code":%q,"password":"four slow herons"}`, done.Invited[5].Code))
	session := got[struct{ Name string }](t, joined, "GET", "/api/v1/session", "")
	assert.Equal(t, "Person 6", session.Name)
	// The same table again: who waits is told, who came is as it stands here.
	again := got[tableRead](t, chief, "POST", "/api/v1/people/table", table)
	assert.Equal(t, form.RowSame, again.Rows[5].ComesTo, "%+v", again.Rows[5])
	assert.Equal(t, "is invited already and has not come yet", again.Rows[0].Problems[0].Reason)
}

// TestPeopleAndAircraftGoOutAndIn: what a school takes out of here as tables
// comes in again with nothing changed; what is changed in them changes that.
func TestPeopleAndAircraftGoOutAndIn(t *testing.T) {
	url := start(t)
	chief := as(t, url, demo.Ferreira)
	for _, what := range []string{"people", "aircraft"} {
		status, table := chief.call("GET", "/api/v1/"+what+".csv", "")
		require.Equal(t, 200, status)
		read := got[tableRead](t, chief, "POST", "/api/v1/"+what+"/table", table)
		require.Greater(t, len(read.Rows), 8)
		for _, r := range read.Rows {
			assert.Equal(t, form.RowSame, r.ComesTo, "%s %+v", what, r)
		}
	}
	_, people := chief.call("GET", "/api/v1/people.csv", "")
	people = strings.Replace(people, demo.Quist.Name, "Jorun Quist-Vale", 1)
	assert.Equal(t, 1, got[tableTaken](t, chief, "POST", "/api/v1/people/table/take", takes(people)).Changed)
	_, now := chief.call("GET", "/api/v1/people.csv", "")
	assert.ElementsMatch(t, strings.Split(people, "\n"), strings.Split(now, "\n"))

	fleet := "registration,type,base,equipment,hours,notes\n" +
		"QZ-AAB,Alder 110,XTHW,carbon-monoxide-alarm second-altimeter,4120.5,\"left door sticks,\nsince May\"\n" +
		"qz-new,sorrel-100,xthw,,,\n"
	done := got[tableTaken](t, chief, "POST", "/api/v1/aircraft/table/take", takes(fleet))
	assert.Equal(t, tableTaken{New: 1, Changed: 1, Invited: done.Invited}, done)
	_, table := chief.call("GET", "/api/v1/aircraft.csv", "")
	assert.Contains(t, table, "4120.5,\"left door sticks,\nsince May\"")
	assert.Contains(t, table, "QZ-NEW,sorrel-100,XTHW,,,")
	for row, column := range map[string]string{
		"QZ-AAB,larch-d2,XTHW,,,": "type", "Q,alder-110,XTHW,,,": "registration", "QZ-ZZA,alder-110,XXXX,,,": "base",
		"QZ-ZZB,alder-110,XTHW,rescue-parachute,,": "equipment", "QZ-ZZC,alder-110,XTHW,,12.34,": "hours",
		"QZ-ZZD,alder-110,XTHW,,\"1,500\",":                         "hours",
		"QZ-ZZE,oak,XTHW,,,":                                        "type",
		"QZ-ZZF,alder-110,XTHW,second-altimeter second-altimeter,,": "equipment",
	} {
		read := got[tableRead](t, chief, "POST", "/api/v1/aircraft/table",
			"registration,type,base,equipment,hours,notes\n"+row)
		require.Len(t, read.Rows, 1, row)
		assert.Equal(t, form.RowRefused, read.Rows[0].ComesTo, row)
		assert.Equal(t, column, read.Rows[0].Problems[0].Field, row)
	}
	for text, want := range map[string]string{
		"registration,type\nQZ-X,alder-110":      `has no column "base"`,
		"registration,type,base,colour\nA,B,C,D": `column "colour" is not known`,
		"\n":                                     "has no row of column names",
		"registration,type,base":                 "has no row under",
		"registration,type,base\n\"QZ":           "extraneous or missing",
		"registration,type,base,type\nA,B,C,D":   "is there twice",
	} {
		read := got[tableRead](t, chief, "POST", "/api/v1/aircraft/table", text)
		require.NotEmpty(t, read.Problems, text)
		assert.Contains(t, read.Problems[0].Reason, want)
		status, _ := chief.call("POST", "/api/v1/aircraft/table/take", takes(text))
		assert.Equal(t, 422, status, text)
	}
}

// TestEquipmentIsOfItsDay: a change ahead is planned, and the lists of a day
// follow what the aircraft has then; a retired aircraft is nowhere offered.
func TestEquipmentIsOfItsDay(t *testing.T) {
	url, d := startWith(t)
	chief, tunde := as(t, url, demo.Ferreira), as(t, url, demo.Okonjo)
	set := func(equipment, rest string) (int, string) {
		return chief.call("PUT", "/api/v1/aircraft/QZ-AAA",
			`{"registration":"QZ-AAA","type":"alder-110","base":"XTHW","equipment":[`+equipment+`]`+rest+`}`)
	}
	has := func(day string) (names []string) {
		require.NoError(t, d.Store.In(t.Context(), demo.SchoolID, func(_ context.Context, tx *store.Tx) error {
			a, err := tx.OneAircraft("QZ-AAA", day)
			names = a.Equipment
			return err
		}))
		return names
	}
	assert.Equal(t, []string{"second-altimeter"}, has("2026-11-24"))
	status, text := set(`"carbon-monoxide-alarm"`, `,"from":"2026-12-01","hours":3990.1,"notes":"new tyres"`)
	require.Equal(t, 204, status, text)
	assert.Equal(t, []string{"second-altimeter"}, has("2026-11-30"))
	assert.Equal(t, []string{"carbon-monoxide-alarm"}, has("2026-12-01"))
	status, text = set(``, `,"from":"2026-12-01"`)
	require.Equal(t, 204, status, "corrected: "+text)
	assert.Empty(t, has("2026-12-02"))
	for rest, want := range map[string]string{
		`,"from":"soon"`: "from must be a day", `,"from":"","hours":-1`: "hours must be",
		`,"from":"","retiredOn":"never"`: "retiredOn must be a day",
	} {
		status, text := set(``, rest)
		assert.Equal(t, 422, status)
		assert.Contains(t, text, want)
	}
	status, text = set(`"rescue-parachute"`, `,"from":""`)
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "no optional equipment of the Alder 110")

	fleet := func() string { _, text := tunde.call("GET", "/api/v1/briefing", ""); return text }
	require.Contains(t, fleet(), "QZ-AAA")
	status, text = set(`"second-altimeter"`, `,"from":"","retiredOn":"`+schooltest.Day.Format("2006-01-02")+`"`)
	require.Equal(t, 204, status, text)
	assert.NotContains(t, fleet(), `"registration":"QZ-AAA","type"`)
	status, text = tunde.call("POST", "/api/v1/bookings",
		fmt.Sprintf(`{"student":%q,"instructor":%q,"registration":"QZ-AAA","on":"2026-11-25","at":"18:00","minutes":60,"exercises":["circuits"]}`, demo.Moreau.ID, demo.Okonjo.ID))
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "is retired since 2026-11-24")
	view := got[struct {
		Aircraft []struct {
			Registration string
			Retired      bool
			Changes      []struct{ From, By string }
		}
	}](t, tunde, "GET", "/api/v1/aircraft", "")
	i := slices.IndexFunc(view.Aircraft, func(a struct {
		Registration string
		Retired      bool
		Changes      []struct{ From, By string }
	}) bool {
		return a.Registration == "QZ-AAA"
	})
	assert.True(t, view.Aircraft[i].Retired)
	assert.Equal(t, "2026-12-01", view.Aircraft[i].Changes[0].From)
	status, text = chief.call("POST", "/api/v1/aircraft", `{"registration":"QZ-AAA","type":"alder-110","base":"XTHW"}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "that the school has or had")
}

// TestEverythingTabularIsATable: each is CSV with as many cells in every row as
// its head has, and holds what its page shows.
func TestEverythingTabularIsATable(t *testing.T) {
	url := start(t)
	chief := as(t, url, demo.Ferreira)
	for path, want := range map[string]string{"/schedule.csv": demo.Owusu.Name, "/taught.csv": "Magneto check",
		"/compare.csv": demo.Okonjo.Name, "/aircraft/QZ-AAB/readings.csv": "QZ-AAB,magneto", "/aircraft.csv": "QZ-AAA",
		"/people.csv":    demo.Okonjo.Email,
		"/audit-log.csv": "address"} {
		status, text := chief.call("GET", "/api/v1"+path, "")
		require.Equal(t, 200, status, path)
		rows, err := csv.NewReader(strings.NewReader(text)).ReadAll() // it refuses rows of other lengths
		require.NoError(t, err, path)
		assert.Greater(t, len(rows), 1, path)
		assert.Contains(t, text, want, path)
	}
	_, own := as(t, url, demo.Okonjo).call("GET", "/api/v1/compare.csv", "")
	assert.NotContains(t, own, demo.Solheim.Name, "an instructor gets their own line")
	_, own = as(t, url, demo.Lindqvist).call("GET", "/api/v1/schedule.csv", "")
	assert.NotContains(t, own, demo.Owusu.Name)
}

// TestATableReachesNobodyElse: every cell of a school's tables changed to an address, an id
// and a registration of another school, and taken: the other school and its people are as
// they were, and nobody of it is enrolled.
func TestATableReachesNobodyElse(t *testing.T) {
	at, d := startWith(t)
	ctx, other := context.Background(), uuid.NewString()
	hash, err := everybodys()
	require.NoError(t, err)
	require.NoError(t,
		d.Store.AddSchool(ctx, store.School{
			ID: other, Name: "Upper Elsewhere", TimeZone: "UTC", CreatedAt: schooltest.Day,
		}, nil))
	for _, role := range []string{access.Admin, access.Instructor, access.Student} {
		who := store.Account{
			ID: uuid.NewString(), Email: role + "@elsewhere.example", Name: "Their " + role, Password: hash,
		}
		require.NoError(t, d.Store.AddAccount(ctx, who))
		require.NoError(t,
			d.Store.In(ctx, other, func(_ context.Context, tx *store.Tx) error { return tx.Join(who.ID, role) }))
	}
	admin := visitor(t, at)
	got[any](t, admin, "POST", "/api/v1/session", sets("email", "admin@elsewhere.example", "password", demo.Password))
	require.NoError(t, d.Store.In(ctx, other, func(_ context.Context, tx *store.Tx) error {
		base := weather.Aerodrome{
			ID: "XELS", Name: "Elsewhere",
			Runways: []weather.Runway{{Name: "09", HeadingDegMagnetic: 90, LengthM: 600, Surface: "grass"}},
		}
		if err := tx.SetBase(base, school.BasesMost); err != nil {
			return err
		}
		return tx.AddAirframe(school.Airframe{Registration: "QZ-ELS", Type: "alder-110", Base: "XELS"}, "2026-11-24")
	}))
	before, tried := moved(t, d.Store), 0
	for what, kept := range map[string]string{
		"people":   must2(admin.call("GET", "/api/v1/people.csv", "")),
		"aircraft": must2(admin.call("GET", "/api/v1/aircraft.csv", "")),
	} {
		reader := csv.NewReader(strings.NewReader(strings.TrimPrefix(kept, "\ufeff")))
		if strings.Count(kept, ";") > strings.Count(kept, ",") {
			reader.Comma = ';'
		}
		rows, err := reader.ReadAll()
		require.NoError(t, err, kept)
		require.Greater(t, len(rows), 1, kept)
		for row := 1; row < len(rows); row++ {
			for column := range rows[row] {
				for _, theirs := range []string{demo.Okonjo.Email, demo.Brandt.ID, "QZ-AAA"} {
					changed := slices.Clone(rows[row])
					changed[column] = theirs
					var table strings.Builder
					w := csv.NewWriter(&table)
					require.NoError(t, w.WriteAll([][]string{rows[0], changed}))
					status, said := admin.call("POST", "/api/v1/"+what+"/table/take", takes(table.String()))
					assert.Contains(t, []int{200, 422}, status, said)
					tried++
				}
			}
		}
	}
	assert.Greater(t, tried, 60)
	for _, who := range []demo.Person{demo.Okonjo, demo.Brandt} {
		memberships, err := d.Store.Memberships(ctx, who.ID)
		require.NoError(t, err)
		assert.Len(t, memberships, 1, "invited at the most")
	}
	assert.True(t, bytes.Equal(before, moved(t, d.Store)), "the other school is as it was")
}
