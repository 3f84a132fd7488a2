package school_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/school"
	"jetprimer/core/standard"
)

func TestWhoMayDoWhat(t *testing.T) {
	nobody := school.Roles{}
	assert.True(t, nobody.May("sign-in"))
	assert.False(t, nobody.May("session"))
	student, instructor, chief, examiner := school.Roles{school.Student}, school.Roles{school.Instructor}, school.Roles{school.Chief}, school.Roles{school.Examiner}
	assert.False(t, student.May("sign-lesson"))
	assert.False(t, chief.May("unheard-of"), "what is not in the table nobody may")
	assert.NotContains(t, instructor.Allowed(), "approve-version")
	assert.Contains(t, chief.Allowed(), "approve-version")
	for _, role := range school.EveryRole {
		assert.Contains(t, school.Roles{role}.Allowed(), "sign-out", role)
	}
	assert.True(t, student.MayRead("a", "a", false))
	assert.False(t, student.MayRead("a", "b", true))
	assert.False(t, examiner.MayRead("e", "a", false))
	assert.True(t, examiner.MayRead("e", "a", true))
	assert.False(t, school.Roles{school.Maintenance}.MayRead("m", "a", true))
	assert.False(t, student.Teach())
	both := school.Roles{school.Instructor, school.Admin}
	assert.True(t, both.May("sign-lesson") && both.May("set-settings"), "each role gives what it gives")
	assert.False(t, both.May("approve-version"))
	assert.ErrorContains(t, school.Roles{}.Check(), "at least one role")
	assert.ErrorContains(t, school.Roles{"pilot"}.Check(), "a role is one of student")
	assert.ErrorContains(t, school.Roles{school.Chief, school.Chief}.Check(), "chief twice")
	assert.NoError(t, both.Check())
}

// TestOnlyTheStudentAcknowledges: an instructor who could set the mark would
// sign for the student.
func TestOnlyTheStudentAcknowledges(t *testing.T) {
	part := func(role, person string) school.Part {
		return school.Part{Roles: school.Roles{role}, Person: person, Student: "lena", Instructor: "tunde"}
	}
	assert.Empty(t, part(school.Student, "lena").MayAdd(true))
	assert.Empty(t, part(school.Instructor, "tunde").MayAdd(false))
	assert.Empty(t, part(school.Chief, "pia").MayAdd(false))
	for _, p := range []school.Part{part(school.Instructor, "tunde"), part(school.Chief, "pia"), part(school.Student, "bea")} {
		assert.Contains(t, p.MayAdd(true), "by the student of the lesson")
	}
	assert.Contains(t, part(school.Student, "lena").MayAdd(false), "not open to the lesson's own student")
	assert.Contains(t, school.Part{Roles: school.Roles{school.Chief}, Person: "pia", Student: "pia", Instructor: "tunde"}.MayAdd(false), "own student", "whoever learns does not grade it")
	assert.Contains(t, part(school.Instructor, "siri").MayAdd(false), "belongs to another instructor")
}

func TestTheLifeOfAVersion(t *testing.T) {
	version := func(n int, status, from, until string) school.Version {
		return school.Version{Kind: school.KindList, ID: "alder", Version: n, AircraftType: "alder-110", Status: status, InForceFrom: from, WithdrawnFrom: until}
	}
	shipped := school.Version{Kind: school.KindList, ID: "alder", Version: 4, AircraftType: "alder-110", Status: school.InForce, Shipped: true}
	all := []school.Version{shipped, version(5, school.Withdrawn, "2026-03-01", "2026-06-01"), version(6, school.InForce, "2026-12-01", ""), version(7, school.Draft, "", "")}
	for day, want := range map[string]int{"2026-01-01": 4, "2026-03-01": 5, "2026-05-31": 5, "2026-06-01": 4, "2026-12-01": 6} {
		serving := school.Serving(all, day)
		require.Len(t, serving, 1, day)
		assert.Equal(t, want, serving[0].Version, day)
	}
	marks := school.Marked(all, "2026-12-02")
	assert.Equal(t, []string{"earlier", "withdrawn", "serving", "draft"}, []string{marks[0].Standing, marks[1].Standing, marks[2].Standing, marks[3].Standing})
	assert.False(t, all[2].HasServed("2026-11-30"), "approved for later is not in force yet")
	assert.True(t, all[1].HasServed("2026-11-30"), "withdrawn, it has been")
	assert.False(t, all[3].HasServed("2026-11-30"))
	assert.True(t, shipped.HasServed("2020-01-01"))

	next, err := school.Next(all, school.KindList, "alder", "alder-110")
	require.NoError(t, err)
	assert.Equal(t, 8, next)
	_, err = school.Next(all, school.KindList, "alder", "rowan-180i")
	assert.ErrorContains(t, err, "is for the alder-110")

	for _, c := range []struct {
		step school.Step
		v    school.Version
		from string
		want string
	}{
		{school.Save, all[3], "", ""}, {school.Save, shipped, "", "ships with the program"}, {school.Review, all[2], "", "is in-force and cannot be reviewed"},
		{school.Drop, all[2], "", "cannot be deleted"}, {school.Approve, version(8, school.Reviewed, "", ""), "2026-11-23", "today or later, not on 2026-11-23"},
		{school.Approve, version(8, school.Reviewed, "", ""), "2026-11-24", ""}, {school.Withdraw, all[2], "2026-12-24", ""}, {school.Withdraw, all[1], "2026-12-24", "is withdrawn and cannot"},
		{school.Reopen, version(8, school.Reviewed, "", ""), "", ""},
	} {
		err := c.step.Check(c.v, c.from, "2026-11-24")
		if c.want == "" {
			assert.NoError(t, err)
		} else {
			assert.ErrorContains(t, err, c.want)
		}
	}
	latest, _ := school.Latest(all, school.KindList, "alder")
	assert.Equal(t, 6, latest.Version)
	assert.True(t, latest.MustBeTold(5, 4))
	assert.False(t, latest.MustBeTold(4, 6))
	assert.False(t, shipped.MustBeTold(0, 0))
}

func TestWhatAFindingMeans(t *testing.T) {
	for decision, want := range map[string][2]bool{"": {true, true}, "grounded": {true, true}, "deferred": {true, false}, "carried-on": {true, false},
		"cleared": {false, false}, "normal-for-type": {false, false}} {
		c := school.ConditionOf(decision)
		assert.Equal(t, want, [2]bool{c.Open(), c.Grounds()}, decision)
	}
}

// TestStudentsAreHeldToWhatThePolicyNames: a pack that the policy leaves out is
// not asked of anybody.
func TestStudentsAreHeldToWhatThePolicyNames(t *testing.T) {
	packs := []standard.Pack{{ID: "core", Classes: []string{"single", "twin"}}, {ID: "published", Authority: "A", Classes: []string{"single"}}, {ID: "other", Authority: "B", Classes: []string{"single"}}}
	ids := func(held []standard.Pack) (out []string) {
		for _, p := range held {
			out = append(out, p.ID)
		}
		return out
	}
	assert.Equal(t, []string{"published", "core"}, ids(school.HeldTo([]string{"core", "published"}, packs, "single")))
	assert.Equal(t, []string{"core"}, ids(school.HeldTo([]string{"core", "published"}, packs, "twin")))
	assert.Equal(t, []string{"published", "other", "core"}, ids(school.HeldTo(nil, packs, "single")))
	assert.Empty(t, school.HeldTo([]string{"core"}, packs, "helicopter"))
}

func TestATabletsClockIsAClaim(t *testing.T) {
	received := time.Date(2026, 11, 24, 11, 0, 0, 0, time.UTC)
	for wall, believed := range map[string]bool{
		"2026-11-24T10:00:00Z": true, "2026-11-24T12:30:00+02:00": true, "2026-11-25T10:59:59Z": true, "2026-11-25T11:00:01Z": false, "2026-08-01T09:00:00Z": true,
		"2026-07-01T09:00:00Z": false, "0000-01-01T00:00:00Z": false, "9999-12-31T23:59:59Z": false, "": false, "yesterday": false,
	} {
		claimed, _ := time.Parse(time.RFC3339, wall)
		want := received
		if believed {
			want = claimed
		}
		assert.True(t, want.Equal(school.Dated(wall, received)), wall)
	}
	hobart, err := time.LoadLocation("Australia/Hobart")
	require.NoError(t, err)
	assert.Equal(t, "2026-11-25", school.Day(received.Add(3*time.Hour), hobart), "the school's day, not the one of Greenwich")
}

// TestCodesOfAnAuthenticator: the published vectors of RFC 6238, appendix B, for
// HMAC-SHA-1; a code serves once, and only around its time.
func TestCodesOfAnAuthenticator(t *testing.T) {
	secret := []byte("12345678901234567890")
	for at, want := range map[int64]string{59: "94287082", 1111111109: "07081804", 1111111111: "14050471", 1234567890: "89005924", 2000000000: "69279037", 20000000000: "65353130"} {
		assert.Equal(t, want, school.CodeAt(secret, school.StepAt(time.Unix(at, 0)), 8))
	}
	now := time.Unix(1111111111, 0)
	here := school.StepAt(now)
	for step, serves := range map[int64]bool{here - 2: false, here - 1: true, here: true, here + 1: true, here + 2: false} {
		found, ok := school.SecondOf(secret, school.CodeAt(secret, step, 6), now, 0)
		assert.Equal(t, serves, ok, step-here)
		if ok {
			assert.Equal(t, step, found)
		}
	}
	code := school.CodeAt(secret, here, 6)
	_, ok := school.SecondOf(secret, code[:3]+" "+code[3:], now, here-1)
	assert.True(t, ok, "as authenticators show it")
	_, ok = school.SecondOf(secret, code, now, here)
	assert.False(t, ok, "used")
	_, ok = school.SecondOf(secret, "", now, 0)
	assert.False(t, ok)
	assert.Equal(t, "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ", school.SecondWords(secret))
	assert.Equal(t, "otpauth://totp/Jet%20Primer%20Fen%20Row:nell@fenrow.example?issuer=Jet+Primer+Fen+Row&secret=GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ", school.SecondURI("Fen Row", "nell@fenrow.example", secret))
}
