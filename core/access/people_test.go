package access_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/access"
	"jetprimer/core/form"
)

func vera() access.Member {
	return access.Member{
		Name: "Vera Holm", Email: "vera@school.example", Number: "S-17", Roles: access.Roles{access.Student},
		Learns: &access.Learns{Type: "alder-110", Instructor: "tunde", StartedOn: "2026-11-24"},
	}
}

// fields are the fields that errors name, in their order.
func fields(t testing.TB, errs []error) []string {
	out := []string{}
	for _, err := range errs {
		var bad form.Problem
		require.ErrorAs(t, err, &bad)
		out = append(out, bad.Field)
	}
	return out
}

// TestWhatAMemberCannotBe: everything wrong is named at once, each by its field,
// and nothing of what is right.
func TestWhatAMemberCannotBe(t *testing.T) {
	assert.NoError(t, vera().Check())
	for name, c := range map[string]struct {
		change func(*access.Member)
		names  []string
	}{
		"no name":               {func(m *access.Member) { m.Name = "  " }, []string{"name"}},
		"a name too long":       {func(m *access.Member) { m.Name = strings.Repeat("ö", 101) }, []string{"name"}},
		"a name just so":        {func(m *access.Member) { m.Name = strings.Repeat("ö", 100) }, nil},
		"a name with a newline": {func(m *access.Member) { m.Name = "Vera\nHolm" }, []string{"name"}},
		"no address":            {func(m *access.Member) { m.Email = "" }, []string{"email"}},
		"an address in words":   {func(m *access.Member) { m.Email = "Vera <vera@school.example>" }, []string{"email"}},
		"an address too long": {
			func(m *access.Member) { m.Email = strings.Repeat("v", 200) + "@school.example" }, []string{"email"},
		},
		"no number":         {func(m *access.Member) { m.Number = "" }, nil},
		"a number too long": {func(m *access.Member) { m.Number = strings.Repeat("1", 41) }, []string{"number"}},
		"no role":           {func(m *access.Member) { m.Roles, m.Learns = nil, nil }, []string{"roles"}},
		"a role twice": {func(m *access.Member) {
			m.Roles = append(m.Roles,
				access.Student)
		}, []string{"roles"}},
		"a student of nothing": {func(m *access.Member) { m.Learns = nil }, []string{"learns"}},
		"learns as examiner": {func(m *access.Member) { m.Roles = access.Roles{access.Examiner} },
			[]string{"learns"}},
		"a day that is none": {
			func(m *access.Member) { m.Learns.StartedOn = "2026-02-30" }, []string{"learns.startedOn"},
		},
		"nearly everything": {func(m *access.Member) {
			m.Name, m.Email, m.Number, m.Roles = "", "x", "\t\x00", access.Roles{"pilot"}
		}, []string{"name", "email", "number", "roles", "learns"}},
	} {
		m := vera()
		c.change(&m)
		assert.Equal(t, append([]string{}, c.names...), fields(t, m.Problems()), name)
		if err := m.Check(); len(c.names) > 0 {
			var bad form.Problem
			require.ErrorAs(t, err, &bad, name)
			assert.Equal(t, c.names[0], bad.Field, "the first is told: %s", name)
		}
	}
}

// TestTidyingIsDoneOnce: what is tidied stays as it is, and the address that is
// signed in by has no capitals and no spaces around it.
func TestTidyingIsDoneOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := access.Member{
			Name: rapid.String().Draw(t, "name"), Email: rapid.String().Draw(t, "email"),
			Number: rapid.String().Draw(t, "number"),
		}
		once := m.Tidy()
		assert.Equal(t, once, once.Tidy())
		assert.Equal(t, strings.TrimSpace(once.Email), once.Email)
	})
	assert.Equal(t, "vera@school.example", access.Member{Email: " Vera@School.EXAMPLE\t"}.Tidy().Email)
	assert.Equal(t, "Vera van Holm", access.Member{Name: " Vera  van\tHolm "}.Tidy().Name)
}

// TestPasswordsThatAreTriedFirst: length, the usual ones however they are dressed
// up, and what names the person.
func TestPasswordsThatAreTriedFirst(t *testing.T) {
	check := func(password string) error {
		return access.CheckPassword(password, "Vera Holm", "v.holm@fenrow.example")
	}
	for _, good := range []string{
		"three quiet owls", "näßße Brücke 9", "correct-horse-battery", "XK4 mn82 LQ", strings.Repeat("ab", 100),
	} {
		assert.NoError(t, check(good), good)
	}
	for password, want := range map[string]string{
		"":                        "at least 10 letters",
		"nine 1234":               "at least 10 letters",
		"äöüäöüäöü":               "at least 10 letters",
		strings.Repeat("ab", 101): "at most 200 letters",
		"zzzzzzzzzzzz":            "one letter over and over",
		"password12345":           "tried first",
		"PassWord!!!!2026":        "tried first",
		"qwerty-123456":           "tried first",
		"1234567890123":           "tried first",
		"flying123 pilot123":      "tried first",
		"VeraHolm2026":            "tried first",
		"vera.fenrow.1":           "tried first",
		"holm@fenrow.example":     "tried first",
	} {
		assert.ErrorContains(t, check(password), want, password)
	}
}

// TestPinsThatAreTriedFirst: digits, and none that a finger finds by itself.
func TestPinsThatAreTriedFirst(t *testing.T) {
	for _, good := range []string{"482915", "100001", "123457", "987653", "000001", "482915482915"} {
		assert.NoError(t, access.CheckPin(good), good)
	}
	for pin, want := range map[string]string{
		"": "must be 6 to 12 digits", "48291": "must be 6 to 12 digits", "4829154829154": "must be 6 to 12 digits",
		"48291a": "must be 6 to 12 digits",
		"48 915": "must be 6 to 12 digits", "٤٨٢٩١٥": "must be 6 to 12 digits", "000000": "one digit over and over",
		"777777777777": "one digit over and over",
		"123456":       "count up or down", "890123": "count up or down", "654321": "count up or down",
		"210987": "count up or down",
	} {
		assert.ErrorContains(t, access.CheckPin(pin), want, pin)
	}
}

// roll is a small school: who teaches, who has left, who waits.
func roll() access.Roll {
	enrolled := func(id, name, email string, active bool, roles ...string) access.Enrolled {
		return access.Enrolled{ID: id, Active: active, Member: access.Member{Name: name, Email: email, Roles: roles}}
	}
	lena := enrolled("lena", "Lena Moreau", "lena@school.example", true, access.Student)
	lena.Number, lena.Learns = "S-1", &access.Learns{Instructor: "tunde", StartedOn: "2026-11-01"}
	lena.Trains = []string{
		"alder-110", "alder-112",
	}
	r := access.Roll{Members: map[string]access.Enrolled{},
		Invited: map[string]bool{"waits@school.example": true, "late@school.example": false},
		Types: map[string]string{
			"alder-110": "alder-110", "alder 110": "alder-110", "alder-112": "alder-112", "larch d2": "larch-d2",
		}}
	for _, e := range []access.Enrolled{lena,
		enrolled("tunde", "Tunde Okonjo", "tunde@school.example", true, access.Instructor, access.Chief),
		enrolled("bo", "Bo Achterberg", "bo@school.example", true, access.Maintenance), enrolled("old", "Ole Brask",
			"ole@school.example", false, access.Instructor)} {
		r.Members[e.Email] = e
	}
	return r
}

func entry(line int, name, email, roles, number, typ, instructor, since string) access.RollEntry {
	e := access.RollEntry{
		Line: line, Member: access.Member{Name: name, Email: email, Number: number, Roles: strings.Fields(roles)},
	}
	if typ+instructor+since != "" {
		e.Learns = &access.Learns{Type: typ, Instructor: instructor, StartedOn: since}
	}
	return e
}

// TestWhatARowOfPeopleComesTo: whom it invites, what it changes, and each thing
// that cannot be by its column.
func TestWhatARowOfPeopleComesTo(t *testing.T) {
	const since = "2026-11-01"
	for name, c := range map[string]struct {
		row     access.RollEntry
		comes   string
		changes []string
		columns []string
		says    string
	}{
		"somebody new": {
			entry(2, "Vera Holm", "vera@school.example", "student", "", "Alder 110", "TUNDE@school.example", since),
			form.RowNew, nil, nil, "",
		},
		"new, without learning": {
			entry(2, "Vera Holm", "vera@school.example", "examiner maintenance", "", "", "", ""), form.RowNew, nil, nil,
			"",
		},
		"whose invitation ended": {
			entry(2, "Late", "late@school.example", "examiner", "", "", "", ""), form.RowNew, nil, nil, "",
		},
		"as she is": {
			entry(2, "Lena Moreau", "lena@school.example", "student", "S-1", "alder-110", "tunde@school.example",
				since),
			form.RowSame, nil, nil, "",
		},
		"on a sister type": {
			entry(2, "Lena Moreau", "lena@school.example", "student", "S-1", "alder-112", "tunde@school.example",
				since),
			form.RowSame, nil, nil, "",
		},
		"roles in another order": {
			entry(2, "Tunde Okonjo", "tunde@school.example", "chief instructor", "", "", "", ""), form.RowSame, nil,
			nil, "",
		},
		"another name and class": {
			entry(2, "Lena Moreau-Sand", " LENA@school.example", "student", "S-2", "Larch D2", "tunde@school.example",
				"2026-11-02"),
			form.RowChanges, []string{"name", "number", "type", "since"}, nil, "",
		},
		"one role fewer": {
			entry(2, "Tunde Okonjo", "tunde@school.example", "instructor", "", "", "", ""), form.RowChanges,
			[]string{"roles"}, nil, "",
		},
		"who teaches begins again": {
			entry(2, "Bo Achterberg", "bo@school.example", "maintenance student", "", "alder-110",
				"tunde@school.example", since),
			form.RowChanges, []string{"roles", "type", "instructor", "since"}, nil, "",
		},
		"with a mechanic": {
			entry(2, "Vera Holm", "vera@school.example", "student", "", "alder-110", "bo@school.example", since),
			form.RowRefused, nil, []string{"instructor"}, "Bo Achterberg does not teach",
		},
		"with who has left": {
			entry(2, "Vera Holm", "vera@school.example", "student", "", "alder-110", "ole@school.example", since),
			form.RowRefused, nil, []string{"instructor"}, "Ole Brask does not teach",
		},
		"with nobody": {
			entry(2, "Vera Holm", "vera@school.example", "student", "", "alder-110", "", since), form.RowRefused, nil,
			[]string{"instructor"}, "the address of who teaches",
		},
		"with a stranger": {
			entry(2, "Vera Holm", "vera@school.example", "student", "", "alder-110", "ann@other.example", since),
			form.RowRefused, nil, []string{"instructor"}, "instructors come in first",
		},
		"of no type": {
			entry(2, "Vera Holm", "vera@school.example", "student", "", "", "tunde@school.example", since),
			form.RowRefused, nil, []string{"type"}, "no aircraft type in force",
		},
		"who waits": {
			entry(2, "Wait", "waits@school.example", "examiner", "", "", "", ""), form.RowRefused, nil,
			[]string{"email"}, "invited already",
		},
		"who has left": {
			entry(2, "Ole Brask", "ole@school.example", "instructor", "", "", "", ""), form.RowRefused, nil,
			[]string{"email"}, "take them back first",
		},
		"everything wrong": {
			entry(2, "", "x", "pilot", "", "oak", "ann@other.example", "soon"), form.RowRefused, nil,
			[]string{"instructor", "type", "name", "email", "roles", "type"}, "",
		},
	} {
		j := roll().Judge([]access.RollEntry{c.row})[0]
		assert.Equal(t, c.comes, j.ComesTo, "%s: %+v", name, j.Problems)
		assert.Equal(t, append([]string{}, c.changes...), j.Changes, name)
		columns, said := []string{}, ""
		for _, f := range j.Problems {
			columns, said = append(columns, f.Field), said+f.Reason+"\n"
		}
		assert.Equal(t, append([]string{}, c.columns...), columns, name)
		assert.Contains(t, said, c.says, name)
	}
}

// TestRowsOfPeopleKnowEachOther: an address stands once, and a row keeps its line
// and leaves what it was made of as it was.
func TestRowsOfPeopleKnowEachOther(t *testing.T) {
	rows := []access.RollEntry{entry(2, "Vera", "vera@school.example", "examiner", "", "", "", ""),
		entry(5, "Vera Again", "VERA@school.example ", "examiner", "", "", "", ""),
		entry(6, "", "", "examiner", "", "", "", ""), entry(7, "", "", "examiner", "", "", "", "")}
	rows[0].Learns = &access.Learns{Type: "Alder 110", Instructor: "Tunde@school.example", StartedOn: "2026-11-01"}
	rows[0].Roles = access.Roles{access.Student}
	out := roll().Judge(rows)
	require.Len(t, out, 4)
	assert.Equal(t, form.RowNew, out[0].ComesTo, "%+v", out[0].Problems)
	assert.Equal(t, access.Learns{Type: "alder-110", Instructor: "tunde", StartedOn: "2026-11-01"},
		*out[0].Member.Learns)
	assert.Equal(t, "Alder 110", rows[0].Learns.Type, "the row itself is as it was")
	assert.Equal(t, 5, out[1].Line)
	assert.Equal(t, []form.Problem{{Field: "email", Reason: "stands in line 2 already"}}, out[1].Problems)
	for _, j := range out[2:] {
		for _, f := range j.Problems {
			assert.NotContains(t, f.Reason, "stands in line", "an empty address is nobody's twice")
		}
	}
	assert.Empty(t, roll().Judge(nil))
}
