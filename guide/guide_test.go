package guide_test

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/words"
	"jetprimer/guide"
)

// TestEveryRoleAndPlaceHasAPage: whoever asks for help somewhere finds some.
func TestEveryRoleAndPlaceHasAPage(t *testing.T) {
	pages, err := guide.Pages()
	require.NoError(t, err)
	roles, places := map[string]int{}, map[string]int{}
	for _, p := range pages {
		roles[p.Role]++
		for _, place := range p.Places {
			places[place]++
		}
	}
	for _, role := range access.Everyone {
		assert.Equal(t, 1, roles[role], role)
	}
	for _, place := range words.All().Places {
		assert.Positive(t, places[place.ID], place.ID)
	}
	assert.Equal(t, "about", pages[0].ID, "what it is for comes first")
	assert.Equal(t, "student", pages[2].Role, "then what is for each role")
}

// TestTheGuideSaysWhatScreensSay: what a page puts down as written on a screen is written
// there, or is a word of the vocabulary.
func TestTheGuideSaysWhatScreensSay(t *testing.T) {
	said := strings.Builder{}
	space := regexp.MustCompile(`\s+`)
	require.NoError(t, filepath.WalkDir("../web/src", func(name string, d fs.DirEntry, err error) error {
		ends := filepath.Ext(name)
		if err != nil || d.IsDir() || ends != ".vue" && ends != ".ts" || strings.HasSuffix(name, ".test.ts") {
			return err
		}
		data, err := os.ReadFile(name)
		said.WriteString(space.ReplaceAllString(string(data), " ") + "\n")
		return err
	}))
	all := words.All()
	for _, list := range [][]words.Word{
		all.Marks, all.Outcomes, all.Decisions, all.Standings, all.Methods, all.Ranks, all.Statuses, all.Severities,
		all.Places,
	} {
		for _, w := range list {
			said.WriteString(w.Words + "\n")
		}
	}
	screens := strings.ToLower(strings.ReplaceAll(said.String(), "’", "'"))
	pages, err := guide.Pages()
	require.NoError(t, err)
	n := 0
	for _, p := range pages {
		for _, b := range p.Blocks {
			for _, item := range b.Items {
				for _, part := range item {
					if part.Kind != "label" {
						continue
					}
					n++
					words := strings.ToLower(strings.ReplaceAll(part.Text, "’", "'"))
					assert.True(t, strings.Contains(screens, words), "%s: no screen says %q", p.ID, part.Text)
				}
			}
		}
	}
	assert.Greater(t, n, 100)
}

// TestTheGuideIsPrinted: as one PDF, the same for the same date.
func TestTheGuideIsPrinted(t *testing.T) {
	made := time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)
	one, err := guide.Print(made)
	require.NoError(t, err)
	again, err := guide.Print(made)
	require.NoError(t, err)
	assert.Equal(t, one, again)
	assert.True(t, strings.HasPrefix(string(one), "%PDF-"))
}
