package form_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/form"
)

// TestARefusalIsPutWhereItStands: under its row, keeping its words; what is no
// refusal of a field is as it was.
func TestARefusalIsPutWhereItStands(t *testing.T) {
	var bad form.Problem
	require.ErrorAs(t, form.Under("students[3].", form.Bad("email", "is %s", "odd")), &bad)
	assert.Equal(t, form.Problem{Field: "students[3].email", Reason: "is odd"}, bad)
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
		assert.True(t, form.SameSet(same[0], same[1]), same)
	}
	for _, other := range [][2][]string{
		{nil, {"a"}},
		{{"a"}, {"b"}},
		{{"a", "a"}, {"a"}},
		{{"a", "b"}, {"a", "c"}},
	} {
		assert.False(t, form.SameSet(other[0], other[1]), other)
	}
	rapid.Check(t, func(t *rapid.T) {
		list := rapid.SliceOf(rapid.StringN(0, 3, -1)).Draw(t, "list")
		mixed := rapid.Permutation(list).Draw(t, "mixed")
		before := strings.Join(list, "|")
		assert.True(t, form.SameSet(list, mixed))
		assert.Equal(t, before, strings.Join(list, "|"), "neither is put in order itself")
		assert.False(t, form.SameSet(list, append([]string{"another"}, mixed...)))
	})
}
