package server_test

import (
	"context"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/exchange"
	"jetprimer/learning"
)

// TestALearnersStatements: every signed lesson is there with its items and levels, a
// record store takes all of them as they are, and nobody's is given to another; the
// student is not told what they have not said their own view of.
func TestALearnersStatements(t *testing.T) {
	url := start(t)
	all := ask[[]exchange.Statement](as(t, url, demo.Ferreira), "GET", "/students/"+demo.Moreau.ID+"/statements.json",
		"", 200)
	completed, scored := map[string]bool{}, 0
	for _, s := range all {
		assert.Equal(t, demo.Moreau.ID, s.Actor.Account.Name)
		switch s.Verb.ID {
		case "http://adlnet.gov/expapi/verbs/completed":
			completed[s.Context.Registration] = true
		case "http://adlnet.gov/expapi/verbs/scored":
			scored++
			require.NotNil(t, s.Result.Score)
			assert.Equal(t, float64(s.Result.Score.Raw)/4, s.Result.Score.Scaled)
			assert.NotEmpty(t, s.Object.Definition.Name["en"])
		}
	}
	assert.NotEmpty(t, completed)
	assert.Greater(t, scored, 20*len(completed))
	s, err := learning.StartLocalStore("127.0.0.1:0", filepath.Join(t.TempDir(), "statements.jsonl"))
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	for range 2 {
		require.NoError(t, learning.RecordStore{Address: s.URL}.Send(context.Background(), all, func(int) {}))
	}
	assert.Equal(t, len(all), s.Count())

	moreau, said := as(t, url, demo.Moreau), map[string]bool{}
	for _, s := range ask[[]exchange.Statement](moreau, "GET", "/students/"+demo.Moreau.ID+"/statements.json", "",
		200) {
		said[s.Context.Registration] = true
	}
	for id := range completed {
		lesson := ask[struct{ Withheld bool }](moreau, "GET", "/lessons/"+id, "", 200)
		assert.NotEqual(t, lesson.Withheld, said[id], "what is withheld is left out, and nothing else")
	}
	status, _ := as(t, url, demo.Lindqvist).call("GET", "/api/v1/students/"+demo.Moreau.ID+"/statements.json", "")
	assert.Equal(t, 404, status)
}
