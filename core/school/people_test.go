package school_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/form"
	"jetprimer/core/school"
)

func vera() school.Member {
	return school.Member{
		Name: "Vera Holm", Email: "vera@school.example", Number: "S-17", Roles: school.Roles{school.Student},
		Learns: &school.Learns{Type: "alder-110", Instructor: "tunde", StartedOn: "2026-11-24"},
	}
}

// fields are the fields that errors name, in their order.
func fields(t testing.TB, errs []error) []string {
	out := []string{}
	for _, err := range errs {
		var bad *form.InputError
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
		change func(*school.Member)
		names  []string
	}{
		"no name":               {func(m *school.Member) { m.Name = "  " }, []string{"name"}},
		"a name too long":       {func(m *school.Member) { m.Name = strings.Repeat("ö", 101) }, []string{"name"}},
		"a name just so":        {func(m *school.Member) { m.Name = strings.Repeat("ö", 100) }, nil},
		"a name with a newline": {func(m *school.Member) { m.Name = "Vera\nHolm" }, []string{"name"}},
		"no address":            {func(m *school.Member) { m.Email = "" }, []string{"email"}},
		"an address in words":   {func(m *school.Member) { m.Email = "Vera <vera@school.example>" }, []string{"email"}},
		"an address too long":   {func(m *school.Member) { m.Email = strings.Repeat("v", 200) + "@school.example" }, []string{"email"}},
		"no number":             {func(m *school.Member) { m.Number = "" }, nil},
		"a number too long":     {func(m *school.Member) { m.Number = strings.Repeat("1", 41) }, []string{"number"}},
		"no role":               {func(m *school.Member) { m.Roles, m.Learns = nil, nil }, []string{"roles"}},
		"a role twice":          {func(m *school.Member) { m.Roles = append(m.Roles, school.Student) }, []string{"roles"}},
		"a student of nothing":  {func(m *school.Member) { m.Learns = nil }, []string{"learns"}},
		"learns as examiner":    {func(m *school.Member) { m.Roles = school.Roles{school.Examiner} }, []string{"learns"}},
		"a day that is none":    {func(m *school.Member) { m.Learns.StartedOn = "2026-02-30" }, []string{"learns.startedOn"}},
		"nearly everything": {func(m *school.Member) {
			m.Name, m.Email, m.Number, m.Roles = "", "x", "\t\x00", school.Roles{"pilot"}
		}, []string{"name", "email", "number", "roles", "learns"}},
	} {
		m := vera()
		c.change(&m)
		assert.Equal(t, append([]string{}, c.names...), fields(t, m.Faults()), name)
		if err := m.Check(); len(c.names) > 0 {
			var bad *form.InputError
			require.ErrorAs(t, err, &bad, name)
			assert.Equal(t, c.names[0], bad.Field, "the first is told: %s", name)
		}
	}
}

// TestTidyingIsDoneOnce: what is tidied stays as it is, and the address that is
// signed in by has no capitals and no spaces around it.
func TestTidyingIsDoneOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		m := school.Member{Name: rapid.String().Draw(t, "name"), Email: rapid.String().Draw(t, "email"), Number: rapid.String().Draw(t, "number")}
		once := m.Tidy()
		assert.Equal(t, once, once.Tidy())
		assert.Equal(t, strings.TrimSpace(once.Email), once.Email)
	})
	assert.Equal(t, "vera@school.example", school.Member{Email: " Vera@School.EXAMPLE\t"}.Tidy().Email)
	assert.Equal(t, "Vera van Holm", school.Member{Name: " Vera  van\tHolm "}.Tidy().Name)
}

// TestPasswordsThatAreTriedFirst: length, the usual ones however they are dressed
// up, and what names the person.
func TestPasswordsThatAreTriedFirst(t *testing.T) {
	check := func(password string) error {
		return school.CheckPassword(password, "Vera Holm", "v.holm@fenrow.example")
	}
	for _, good := range []string{"three quiet owls", "näßße Brücke 9", "correct-horse-battery", "XK4 mn82 LQ", strings.Repeat("ab", 100)} {
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
		assert.NoError(t, school.CheckPin(good), good)
	}
	for pin, want := range map[string]string{
		"": "must be 6 to 12 digits", "48291": "must be 6 to 12 digits", "4829154829154": "must be 6 to 12 digits", "48291a": "must be 6 to 12 digits",
		"48 915": "must be 6 to 12 digits", "٤٨٢٩١٥": "must be 6 to 12 digits", "000000": "one digit over and over", "777777777777": "one digit over and over",
		"123456": "count up or down", "890123": "count up or down", "654321": "count up or down", "210987": "count up or down",
	} {
		assert.ErrorContains(t, school.CheckPin(pin), want, pin)
	}
}

// roll is a small school: who teaches, who has left, who waits.
func roll() school.Roll {
	enrolled := func(id, name, email string, active bool, roles ...string) school.Enrolled {
		return school.Enrolled{ID: id, Active: active, Member: school.Member{Name: name, Email: email, Roles: roles}}
	}
	lena := enrolled("lena", "Lena Moreau", "lena@school.example", true, school.Student)
	lena.Number, lena.Learns, lena.Trains = "S-1", &school.Learns{Instructor: "tunde", StartedOn: "2026-11-01"}, []string{"alder-110", "alder-112"}
	r := school.Roll{Members: map[string]school.Enrolled{}, Invited: map[string]bool{"waits@school.example": true, "late@school.example": false},
		Types: map[string]string{"alder-110": "alder-110", "alder 110": "alder-110", "alder-112": "alder-112", "larch d2": "larch-d2"}}
	for _, e := range []school.Enrolled{lena, enrolled("tunde", "Tunde Okonjo", "tunde@school.example", true, school.Instructor, school.Chief),
		enrolled("bo", "Bo Achterberg", "bo@school.example", true, school.Maintenance), enrolled("old", "Ole Brask", "ole@school.example", false, school.Instructor)} {
		r.Members[e.Email] = e
	}
	return r
}

func entry(line int, name, email, roles, number, typ, instructor, since string) school.Entry {
	e := school.Entry{Line: line, Member: school.Member{Name: name, Email: email, Number: number, Roles: strings.Fields(roles)}}
	if typ+instructor+since != "" {
		e.Learns = &school.Learns{Type: typ, Instructor: instructor, StartedOn: since}
	}
	return e
}

// TestWhatARowOfPeopleComesTo: whom it invites, what it changes, and each thing
// that cannot be by its column.
func TestWhatARowOfPeopleComesTo(t *testing.T) {
	const since = "2026-11-01"
	for name, c := range map[string]struct {
		row     school.Entry
		comes   string
		changes []string
		columns []string
		says    string
	}{
		"somebody new":             {entry(2, "Vera Holm", "vera@school.example", "student", "", "Alder 110", "TUNDE@school.example", since), school.RowNew, nil, nil, ""},
		"new, without learning":    {entry(2, "Vera Holm", "vera@school.example", "examiner maintenance", "", "", "", ""), school.RowNew, nil, nil, ""},
		"whose invitation ended":   {entry(2, "Late", "late@school.example", "examiner", "", "", "", ""), school.RowNew, nil, nil, ""},
		"as she is":                {entry(2, "Lena Moreau", "lena@school.example", "student", "S-1", "alder-110", "tunde@school.example", since), school.RowSame, nil, nil, ""},
		"on a sister type":         {entry(2, "Lena Moreau", "lena@school.example", "student", "S-1", "alder-112", "tunde@school.example", since), school.RowSame, nil, nil, ""},
		"roles in another order":   {entry(2, "Tunde Okonjo", "tunde@school.example", "chief instructor", "", "", "", ""), school.RowSame, nil, nil, ""},
		"another name and class":   {entry(2, "Lena Moreau-Sand", " LENA@school.example", "student", "S-2", "Larch D2", "tunde@school.example", "2026-11-02"), school.RowChanges, []string{"name", "number", "type", "since"}, nil, ""},
		"one role fewer":           {entry(2, "Tunde Okonjo", "tunde@school.example", "instructor", "", "", "", ""), school.RowChanges, []string{"roles"}, nil, ""},
		"who teaches begins again": {entry(2, "Bo Achterberg", "bo@school.example", "maintenance student", "", "alder-110", "tunde@school.example", since), school.RowChanges, []string{"roles", "type", "instructor", "since"}, nil, ""},
		"with a mechanic":          {entry(2, "Vera Holm", "vera@school.example", "student", "", "alder-110", "bo@school.example", since), school.RowRefused, nil, []string{"instructor"}, "Bo Achterberg does not teach"},
		"with who has left":        {entry(2, "Vera Holm", "vera@school.example", "student", "", "alder-110", "ole@school.example", since), school.RowRefused, nil, []string{"instructor"}, "Ole Brask does not teach"},
		"with nobody":              {entry(2, "Vera Holm", "vera@school.example", "student", "", "alder-110", "", since), school.RowRefused, nil, []string{"instructor"}, "the address of who teaches"},
		"with a stranger":          {entry(2, "Vera Holm", "vera@school.example", "student", "", "alder-110", "ann@other.example", since), school.RowRefused, nil, []string{"instructor"}, "instructors come in first"},
		"of no type":               {entry(2, "Vera Holm", "vera@school.example", "student", "", "", "tunde@school.example", since), school.RowRefused, nil, []string{"type"}, "no aircraft type in force"},
		"who waits":                {entry(2, "Wait", "waits@school.example", "examiner", "", "", "", ""), school.RowRefused, nil, []string{"email"}, "invited already"},
		"who has left":             {entry(2, "Ole Brask", "ole@school.example", "instructor", "", "", "", ""), school.RowRefused, nil, []string{"email"}, "take them back first"},
		"everything wrong":         {entry(2, "", "x", "pilot", "", "oak", "ann@other.example", "soon"), school.RowRefused, nil, []string{"instructor", "type", "name", "email", "roles", "type"}, ""},
	} {
		j := roll().Judge([]school.Entry{c.row})[0]
		assert.Equal(t, c.comes, j.ComesTo, "%s: %+v", name, j.Faults)
		assert.Equal(t, append([]string{}, c.changes...), j.Changes, name)
		columns, said := []string{}, ""
		for _, f := range j.Faults {
			columns, said = append(columns, f.Column), said+f.Reason+"\n"
		}
		assert.Equal(t, append([]string{}, c.columns...), columns, name)
		assert.Contains(t, said, c.says, name)
	}
}

// TestRowsOfPeopleKnowEachOther: an address stands once, and a row keeps its line
// and leaves what it was made of as it was.
func TestRowsOfPeopleKnowEachOther(t *testing.T) {
	rows := []school.Entry{entry(2, "Vera", "vera@school.example", "examiner", "", "", "", ""), entry(5, "Vera Again", "VERA@school.example ", "examiner", "", "", "", ""),
		entry(6, "", "", "examiner", "", "", "", ""), entry(7, "", "", "examiner", "", "", "", "")}
	rows[0].Learns = &school.Learns{Type: "Alder 110", Instructor: "Tunde@school.example", StartedOn: "2026-11-01"}
	rows[0].Roles = school.Roles{school.Student}
	out := roll().Judge(rows)
	require.Len(t, out, 4)
	assert.Equal(t, school.RowNew, out[0].ComesTo, "%+v", out[0].Faults)
	assert.Equal(t, school.Learns{Type: "alder-110", Instructor: "tunde", StartedOn: "2026-11-01"}, *out[0].Member.Learns)
	assert.Equal(t, "Alder 110", rows[0].Learns.Type, "the row itself is as it was")
	assert.Equal(t, 5, out[1].Line)
	assert.Equal(t, []school.Fault{{Column: "email", Reason: "stands in line 2 already"}}, out[1].Faults)
	for _, j := range out[2:] {
		for _, f := range j.Faults {
			assert.NotContains(t, f.Reason, "stands in line", "an empty address is nobody's twice")
		}
	}
	assert.Empty(t, roll().Judge(nil))
}

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

// TestARefusalIsPutWhereItStands: under its row, keeping its words; what is no
// refusal of a field is as it was.
func TestARefusalIsPutWhereItStands(t *testing.T) {
	var bad *form.InputError
	require.ErrorAs(t, form.Under("students[3].", form.Bad("email", "is %s", "odd")), &bad)
	assert.Equal(t, form.InputError{Field: "students[3].email", Reason: "is odd"}, *bad)
	require.ErrorAs(t, form.Under("a.", form.Under("b.", form.Bad("c", "is odd"))), &bad)
	assert.Equal(t, "a.b.c", bad.Field)
	assert.Equal(t, assert.AnError, form.Under("a.", assert.AnError))
	assert.NoError(t, form.Under("a.", nil))
}

// TestTheSameInWhateverOrder: lists that name the same.
func TestTheSameInWhateverOrder(t *testing.T) {
	for _, same := range [][2][]string{
		{nil, nil},
		{nil, {}},
		{{"a"}, {"a"}},
		{{"a", "b"}, {"b", "a"}},
	} {
		assert.True(t, school.SameSet(same[0], same[1]), same)
	}
	for _, other := range [][2][]string{
		{nil, {"a"}},
		{{"a"}, {"b"}},
		{{"a", "a"}, {"a"}},
		{{"a", "b"}, {"a", "c"}},
	} {
		assert.False(t, school.SameSet(other[0], other[1]), other)
	}
	rapid.Check(t, func(t *rapid.T) {
		list := rapid.SliceOf(rapid.StringN(0, 3, -1)).Draw(t, "list")
		mixed := rapid.Permutation(list).Draw(t, "mixed")
		before := strings.Join(list, "|")
		assert.True(t, school.SameSet(list, mixed))
		assert.Equal(t, before, strings.Join(list, "|"), "neither is put in order itself")
		assert.False(t, school.SameSet(list, append([]string{"another"}, mixed...)))
	})
}
