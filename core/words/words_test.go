package words_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/library"
	"jetprimer/core/words"
)

// TestWordsAreComplete: every code that a state or a page can hold has words.
func TestWordsAreComplete(t *testing.T) {
	all := words.All()
	known := func(list []words.Word) map[string]bool {
		out := map[string]bool{}
		for _, w := range list {
			require.NotEmpty(t, w.Words, w.ID)
			require.False(t, out[w.ID], w.ID)
			out[w.ID] = true
		}
		return out
	}
	for _, c := range []struct {
		list []words.Word
		ids  []string
	}{
		{all.Methods, lesson.Methods}, {all.Purposes, lesson.Purposes}, {all.Decisions, lesson.Decisions},
		{all.Ranks, checklist.Ranks},
		{all.Outcomes, []string{"normal", "caution", "invalid", "abnormal"}},
		{all.Severities, []string{"slip", "wrong", "unsafe"}},
		{all.Kinds, []string{library.KindType, library.KindList, library.KindLayer, library.KindAid}},
		{all.Statuses, []string{library.Draft, library.Reviewed, library.InForce, library.Withdrawn}},
		{all.Marks, []string{"done", "prompted", "helped", "wrong", "self-fixed", "left-out", "not-fitted", "unsafe"}},
	} {
		have := known(c.list)
		for _, id := range c.ids {
			assert.True(t, have[id], id)
		}
	}
}
