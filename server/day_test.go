package server_test

import (
	"encoding/json"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/calc"
	"jetprimer/core/weather"
	"jetprimer/demo"
	"jetprimer/reports"
	"jetprimer/server/days"
	"jetprimer/server/lessons"
)

// TestCalculatorsOverHTTP: the same bytes as the rules themselves, and bad
// input answered with its field.
func TestCalculatorsOverHTTP(t *testing.T) {
	c := as(t, start(t), demo.Brandt)
	for name, request := range map[string]string{
		"altitudes": `{"elevationFt":412,"qnhHPa":1003,"oatC":31}`,
		"prime":     `{"aircraftType":"rowan-180i","engineState":"hot","oatC":24}`,
		"metar":     `{"text":"XTHW 241150Z 21014G24KT 9999 BKN022 09/06 Q1009"}`,
		"fuel-plan": `{"leftL":40,"rightL":32,"burnLPerHour":24,"imbalanceMaxL":20}`,
	} {
		want, err := calc.Run(name, []byte(request), mustCatalog(t).Tables())
		require.NoError(t, err)
		status, body := c.call("POST", "/api/v1/calc/"+name, request)
		assert.Equal(t, 200, status, body)
		assert.Equal(t, string(want), body)
	}
	for request, field := range map[string]string{
		`{"elevationFt":"412 ft","qnhHPa":1003,"oatC":31}`: "elevationFt",
		`{"elevationFt":412,"qnhHPa":1003,"oatC":1e999}`:   "oatC", `-`: "request",
	} {
		status, body := c.call("POST", "/api/v1/calc/altitudes", request)
		assert.Equal(t, 422, status)
		assert.Contains(t, body, field)
	}
	assert.Contains(t, ask[map[string]any](c, "POST", "/calc/song", "{}", 422)["detail"], "is not known")

	tools := ask[days.Calculators](c, "GET", "/calculators?type=willow-t5", "", 200)
	assert.Len(t, tools.Calculators, len(calc.All()))
	assert.GreaterOrEqual(t, len(tools.Questions), 25)
	assert.NotEmpty(t, tools.Procedures)
}

// TestTheStationOverHTTP: a moment has its report, which says that it is made up.
func TestTheStationOverHTTP(t *testing.T) {
	c := as(t, start(t), demo.Brandt)
	at := "/station/XTHW?at=" + url.QueryEscape("2026-11-24T10:10:00Z")
	type station struct {
		Report, Broadcast, Runway, Note string
		Parsed                          json.RawMessage
	}
	first := ask[station](c, "GET", at, "", 200)
	assert.Equal(t, first, ask[station](c, "GET", at, "", 200))
	assert.True(t, strings.HasPrefix(first.Report, "METAR XTHW 241000Z "), first.Report)
	data, err := json.Marshal(weather.ParseReport(first.Report))
	require.NoError(t, err)
	assert.JSONEq(t, string(data), string(first.Parsed))
	assert.Contains(t, first.Broadcast, "Tarn Hollow information")
	assert.Contains(t, first.Note, "no weather")
	assert.Contains(t, []string{"02", "20", "08", "26"}, first.Runway)
	ask[any](c, "GET", "/station/ZZZZ", "", 404)
	ask[any](c, "GET", "/station/XTHW?at=noon", "", 422)

	reference := ask[days.Reference](c, "GET", "/reference", "", 200)
	assert.Len(t, reference.Types, 7)
	assert.Contains(t, reference.Example["turbine-start"], "willow-t5")
	assert.NotContains(t, reference.Example["turbine-start"], "alder-110")
}

// TestAQuestionOfTheBankCounts: its elements are seen in the student's record
// once the lesson is signed.
func TestAQuestionOfTheBankCounts(t *testing.T) {
	c := as(t, start(t), demo.Okonjo)
	status, body := c.call("POST", "/api/v1/lessons/01a00000-0000-7000-8000-000000000001/events",
		batch(opening(demo.Okonjo.ID),
			event(2, "oral", map[string]any{
				"question": "What shows the wind?", "bank": "why-windsock",
				"elements": []string{"taxi-wind-indicators"}, "level": 4,
			}),
			event(3, "oral", map[string]any{"question": "Too many", "elements": make([]string, 17), "level": 4}),
			event(4, "lesson-ended", map[string]any{})))
	require.Equal(t, 200, status, body)
	assert.Contains(t, body, "payload.elements")
	view := ask[lessons.LessonView](c, "GET", "/lessons/01a00000-0000-7000-8000-000000000001", "", 200)
	require.Len(t, view.State.Orals, 1)
	assert.Equal(t, "why-windsock", view.State.Orals[0].Bank)
	before := ask[reports.StudentView](c, "GET", "/students/"+demo.Moreau.ID, "", 200)
	status, body = c.call("POST", "/api/v1/lessons/01a00000-0000-7000-8000-000000000001/sign",
		`{"password":"`+demo.Password+`","eventHash":"`+view.State.EventHash+
			`","event":"01a00000-0000-7000-8000-0000000000ff"}`)
	require.Equal(t, 200, status, body)
	after := ask[reports.StudentView](c, "GET", "/students/"+demo.Moreau.ID, "", 200)
	history := func(v reports.StudentView) int {
		for _, task := range v.Tasks {
			for _, e := range task.Elements {
				if e.ID == "taxi-wind-indicators" {
					return len(e.History)
				}
			}
		}
		return -1
	}
	assert.Equal(t, history(before)+1, history(after))
}
