package server_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
	"jetprimer/demo/schooltest"
)

// TestADeferralHasItsLimit: the days that are left are told; when they are over the
// aircraft stays on the ground, until it is deferred anew or returned.
func TestADeferralHasItsLimit(t *testing.T) {
	url, _, clock := startAt(t, nil)
	type finding struct {
		Event, Lesson, Condition, Rule string
		Grounds                        bool
		DaysLeft                       *int
	}
	open := func() finding {
		for _, f := range got[struct{ Findings []finding }](t, as(t, url, demo.Achterberg), "GET",
			"/api/v1/aircraft/QZ-AAB/trends", "").Findings {
			if f.Condition != "closed" {
				return f
			}
		}
		return finding{}
	}
	f := open()
	require.Equal(t, "deferred", f.Condition)
	assert.Nil(t, f.DaysLeft, "nobody has said until when")
	day := func(n int) string { return schooltest.Day.AddDate(0, 0, n).Format("2006-01-02") }
	limit := func(until, words string) (int, string) {
		return as(t, url, demo.Achterberg).call("POST", "/api/v1/findings/"+f.Lesson+"/"+f.Event+"/defer",
			fmt.Sprintf(`{"until":%q,"words":%q}`, until, words))
	}
	for name, wrong := range map[string][2]string{
		"gone by": {day(-1), "item 7"}, "too far": {day(400), "item 7"}, "no rule": {day(9), "  "},
		"no day": {"soon", "item 7"},
	} {
		status, body := limit(wrong[0], wrong[1])
		assert.Contains(t, []int{400, 422}, status, "%s: %s", name, body)
	}
	status, body := limit(day(9), "item 7: within ten days, by day")
	require.Equal(t, 204, status, body)
	f = open()
	require.NotNil(t, f.DaysLeft)
	assert.Equal(t, "9 item 7: within ten days, by day false", fmt.Sprint(*f.DaysLeft, " ", f.Rule, " ", f.Grounds))

	lesson := func() (int, string) {
		open := opening(demo.Okonjo.ID)
		open["payload"].(map[string]any)["aircraft"] = "QZ-AAB"
		text := batch(open)
		return as(t, url, demo.Okonjo).call("POST",
			"/api/v1/lessons/"+uuid.Must(uuid.NewV7()).String()+"/events?now=true", text)
	}
	clock.pass(10 * 24 * time.Hour)
	f = open()
	assert.Equal(t, "overdue true", fmt.Sprint(f.Condition, " ", f.Grounds))
	status, body = lesson()
	assert.Equal(t, 422, status, body)
	assert.Contains(t, body, "stays on the ground")
	status, body = limit(day(15), "extended by the operator")
	require.Equal(t, 204, status, body)
	assert.Equal(t, "deferred", open().Condition)
	status, body = lesson()
	assert.Equal(t, 200, status, body)

	status, body = as(t, url, demo.Achterberg).call("POST", "/api/v1/findings/"+f.Lesson+"/"+f.Event+"/return",
		`{"words":"plugs changed","retest":"drops 90 and 84"}`)
	require.Equal(t, 204, status, body)
	status, _ = limit(day(20), "item 7")
	assert.Equal(t, 422, status, "it stands open no longer")
}
