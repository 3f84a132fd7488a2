package access_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/access"
)

func TestWhoMayDoWhat(t *testing.T) {
	nobody := access.Roles{}
	assert.True(t, nobody.Any(access.Anyone))
	assert.False(t, nobody.Any(access.Everyone))
	student, examiner := access.Roles{access.Student}, access.Roles{access.Examiner}
	for _, role := range access.EveryRole {
		assert.True(t, access.Roles{role}.Any(access.Anyone) && access.Roles{role}.Any(access.Everyone), role)
	}
	assert.True(t, student.MayRead("a", "a", false))
	assert.False(t, student.MayRead("a", "b", true))
	assert.False(t, examiner.MayRead("e", "a", false))
	assert.True(t, examiner.MayRead("e", "a", true))
	assert.False(t, access.Roles{access.Maintenance}.MayRead("m", "a", true))
	assert.False(t, student.Teach())
	both := access.Roles{access.Instructor, access.Admin}
	assert.True(t, both.Any(access.Teaching) && both.Any(access.Governing), "each role gives what it gives")
	assert.False(t, both.Any(access.Roles{access.Chief}))
	assert.ErrorContains(t, access.Roles{}.Check(), "at least one role")
	assert.ErrorContains(t, access.Roles{"pilot"}.Check(), "a role is one of student")
	assert.ErrorContains(t, access.Roles{access.Chief, access.Chief}.Check(), "chief twice")
	assert.NoError(t, both.Check())
}

// TestOnlyTheStudentAcknowledges: an instructor who could set the mark would
// sign for the student.
func TestOnlyTheStudentAcknowledges(t *testing.T) {
	part := func(role, person string) access.Part {
		return access.Part{Roles: access.Roles{role}, Person: person, Student: "lena", Instructor: "tunde"}
	}
	assert.Empty(t, part(access.Student, "lena").MayAdd(true))
	assert.Empty(t, part(access.Instructor, "tunde").MayAdd(false))
	assert.Empty(t, part(access.Chief, "pia").MayAdd(false))
	for _, p := range []access.Part{
		part(access.Instructor, "tunde"), part(access.Chief, "pia"), part(access.Student, "bea"),
	} {
		assert.Contains(t, p.MayAdd(true), "by the student of the lesson")
	}
	assert.Contains(t, part(access.Student, "lena").MayAdd(false), "not open to the lesson's own student")
	assert.Contains(t,
		access.Part{
			Roles: access.Roles{access.Chief}, Person: "pia", Student: "pia", Instructor: "tunde",
		}.MayAdd(false), "own student", "whoever learns does not grade it")
	assert.Contains(t, part(access.Instructor, "siri").MayAdd(false), "belongs to another instructor")
}
