package access_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"jetprimer/core/access"
)

// TestWhoOwesASecondFactor: who looks after the school, where it asks for one.
func TestWhoOwesASecondFactor(t *testing.T) {
	for role, owes := range map[string]bool{
		access.Chief: true, access.Admin: true, access.Instructor: false, access.Student: false,
		access.Maintenance: false, access.Examiner: false,
	} {
		assert.Equal(t, owes, access.Roles{role}.OwesSecond(true, false), role)
		assert.False(t, access.Roles{role}.OwesSecond(true, true), "has it: %s", role)
		assert.False(t, access.Roles{role}.OwesSecond(false, false), "nobody asks: %s", role)
	}
	assert.True(t, access.Roles{access.Student, access.Admin}.OwesSecond(true, false))
}
