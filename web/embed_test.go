package web_test

import (
	"io/fs"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/web"
)

// lessonMost is how large the rules that a lesson takes may be, compressed, in bytes: a
// device loads them before anything else.
const lessonMost = 1_200_000

// TestTheRulesOfALessonAreSmall holds the built module to its size.
func TestTheRulesOfALessonAreSmall(t *testing.T) {
	names, err := fs.Glob(web.Dist, "dist/assets/lesson-*.wasm.br")
	require.NoError(t, err)
	if len(names) == 0 {
		t.Skip("the screens are not built")
	}
	for _, name := range names {
		data, err := fs.ReadFile(web.Dist, name)
		require.NoError(t, err)
		assert.LessOrEqual(t, len(data), lessonMost, strings.TrimPrefix(name, "dist/assets/"))
	}
}
