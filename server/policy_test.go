package server_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/library"
	"jetprimer/core/policy"
	"jetprimer/demo"
	"jetprimer/reports"
	"jetprimer/server/documents"
	"jetprimer/server/schools"
)

type decided struct {
	library.Version
	Document policy.Policy `json:"document"`
}

// stood is how every student stands on the school's sheet and on their own page.
func stood(t *testing.T, c *client) map[string]string {
	out := map[string]string{}
	for _, g := range ask[reports.SchoolView](c, "GET", "/school", "", 200).Groups {
		for _, s := range g.Students {
			own := ask[reports.StudentView](c, "GET", "/students/"+s.Student.ID, "", 200)
			standings := []string{}
			for _, task := range own.Tasks {
				for _, e := range task.Elements {
					standings = append(standings, e.ID+" "+e.Standing)
				}
			}
			assert.Equal(t, []any{own.Readiness.Met, own.Readiness.Required, own.Readiness.Ready},
				[]any{s.Met, s.Required, s.Ready}, "the sheet says of %s what their page says", s.Student.Name)
			out[s.Student.ID] = fmt.Sprint(standings, own.Readiness.Met, own.Readiness.Required, own.Readiness.Ready)
		}
	}
	return out
}

// TestAPolicyMovesWhomItsPreviewNames: just those and nobody else, for a stricter
// and for a milder one; before it comes into force it moves nobody.
func TestAPolicyMovesWhomItsPreviewNames(t *testing.T) {
	at := start(t)
	chief, admin, second := as(t, at, demo.Ferreira), as(t, at, demo.Whitlock), as(t, at, demo.Okonjo)
	now := ask[schools.PolicyView](chief, "GET", "/policy", "", 200)
	assert.Equal(t, 2, now.Version)
	assert.NotEmpty(t, now.Known.Packs)
	document := ask[decided](chief, "GET", "/library/policy/policy/2", "", 200).Document
	none := ask[reports.Preview](chief, "GET", "/policy/2/preview", "", 200)
	assert.Empty(t, none.Moved, "the policy of today moves nobody")
	for i, change := range []func(p *policy.Policy){
		func(p *policy.Policy) { p.Standing.LapseDays, p.Standing.Enter.Lessons = 14, 5 },
		func(p *policy.Policy) {
			p.Standing.LapseDays, p.Standing.Enter.Lessons, p.Standing.CriticalLessons = 365, 1, 1
		},
	} {
		version := 3 + i
		change(&document)
		before := stood(t, chief)
		draft := ask[decided](chief, "POST", "/library/policy", body(t, map[string]any{"document": document}), 200)
		require.Equal(t, version, draft.Version.Version)
		preview := ask[reports.Preview](admin, "GET", fmt.Sprintf("/policy/%d/preview", version), "", 200)
		assert.Equal(t, before, stood(t, chief), "a draft moves nobody")
		would := map[string]reports.PolicyMoved{}
		for _, m := range preview.Moved {
			would[m.Student] = m
		}
		require.NotEmpty(t, would)
		step := func(c *client, name, more string) {
			ask[any](c, "POST", fmt.Sprintf("/library/policy/policy/%d/%s", version, name), `{"revision":1`+more+`}`,
				200)
		}
		step(second, "review", "")
		step(chief, "approve", `,"from":"2026-11-24"`)
		after := stood(t, chief)
		for id, was := range before {
			m, named := would[id]
			assert.Equal(t, named, was != after[id], "version %d, %s", version, id)
			if named {
				own := ask[reports.StudentView](chief, "GET", "/students/"+id, "", 200)
				assert.Equal(t, []any{m.Would, m.WouldMet, m.WouldNeed},
					[]any{own.Readiness.Ready, own.Readiness.Met, own.Readiness.Required})
			}
		}
		assert.Equal(t, version, ask[schools.PolicyView](chief, "GET", "/policy", "", 200).Version)
	}
}

// TestAPolicyReachesTheLesson: what it decides stands at the desk, in the
// briefing and on the list as flown; a policy with a mistake is not reviewed.
func TestAPolicyReachesTheLesson(t *testing.T) {
	at := start(t)
	chief := as(t, at, demo.Ferreira)
	document := ask[decided](chief, "GET", "/library/policy/policy/2", "", 200).Document
	document.Scales = nil
	draft := ask[documents.DocumentView](chief, "POST", "/library/policy",
		body(t, map[string]any{"document": document}),
		200)
	require.NotEmpty(t, draft.Problems)
	status, said := chief.call("POST", "/api/v1/library/policy/policy/3/review", `{"revision":1}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "scales")
	document.Scales, document.Methods, document.DeadCut, document.TurnBackFt = []string{"five"}, []string{
		"flow-then-verify",
	}, false, nil
	document.StartOrders = map[string][]int{"hornbeam-twin": {2, 1}}
	ask[any](chief, "PUT", "/library/policy/policy/3", body(t, map[string]any{"revision": 1, "document": document}),
		200)
	ask[any](chief, "POST", "/library/policy/policy/3/review", `{"revision":2}`, 200)
	ask[any](chief, "POST", "/library/policy/policy/3/approve", `{"revision":2,"from":"2026-11-25"}`, 200)
	assert.Len(t, ask[reports.Briefing](chief, "GET", "/briefing", "", 200).Methods, 3, "not before its day")
	tomorrow := ask[documents.DeskView](chief, "GET", "/desk/hornbeam-twin?on=2026-11-25", "", 200).Policy
	assert.Equal(t, policy.ForDay{
		FuelMethod: "prove-both", TurnBack: "", Skips: []string{"dead-cut"}, Breakers: "once", Passing: "everything",
		StartOrder: []int{2, 1},
	}, tomorrow)
	assert.Equal(t, "900", ask[documents.DeskView](chief, "GET", "/desk/hornbeam-twin", "", 200).Policy.TurnBack)
	status, file := chief.call("GET", "/api/v1/library/policy/policy/3/export?format=yaml", "")
	assert.Equal(t, 200, status)
	assert.Contains(t, file, "deadCut: false")
}
