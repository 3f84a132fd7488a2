package practice_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/practice"
)

func TestZZ(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, r := range c.Rigs {
		course, ok := c.Course(r.Type)
		require.True(t, ok)
		s := course.Scenarios[0]
		run, err := course.Show(s, 1, "a", "2026-11-27T09:00:00Z", "")
		require.NoError(t, err)
		run.Mode = practice.Alone
		for i := range run.Deeds {
			if call := run.Deeds[i].Call; call != nil && call.Name == "shown" {
				call.Name = "done"
			}
		}
		run.Decision = "normal-for-type"
		ses, err := course.Replay(run, nil)
		require.NoError(t, err)
		score, err := ses.Score()
		require.NoError(t, err)
		fmt.Println(len(ses.State.Items), ses.State.Items[0].Status, ses.State.Items[0].Level, ses.State.Items[0].Proposed); fmt.Println(r.Type, run.Ticks/50, score.Level, score.Right, score.Off, score.Answer.Words, score.Worn, len(score.Beside), score.Noticed, score.State.Problems)
		for _, e := range score.State.Errors {
			fmt.Println("   ", e.Item, e.Code, e.Words, e.AtMs)
		}
		for _, i := range ses.State.Items {
			if i.Level == nil || *i.Level < 4 {
				fmt.Println("   ", i.ID, i.Status, i.Reasons, i.Broken)
			}
		}
		for _, r := range ses.State.Readings {
			if r.Unusable != "" {
				fmt.Println("   ", r.Item, r.Unusable)
			}
		}
	}
}
