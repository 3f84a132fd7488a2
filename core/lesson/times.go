package lesson

import (
	"fmt"
	"math"
	"slices"
)

// Times are what a lesson took.
type Times struct {
	// LessonMinutes are from the opening to the last event; BlockMinutes from
	// moving off to the shutdown, 0 where the aircraft did not move.
	LessonMinutes int `json:"lessonMinutes"`
	BlockMinutes  int `json:"blockMinutes"`
	// OffMs and OnMs are when it moved off and was shut down, from the opening.
	OffMs int64 `json:"offMs"`
	OnMs  int64 `json:"onMs"`
	// Meters are what the hour meters counted.
	Meters []MeterRun `json:"meters"`
	// FlightMinutes and GroundMinutes are by the school's Rule; practice anywhere
	// but in an aircraft is ground time.
	FlightMinutes int    `json:"flightMinutes"`
	GroundMinutes int    `json:"groundMinutes"`
	Rule          string `json:"rule" enum:"hour-meter,block"`
	// Doubts are what does not fit together, in sentences.
	Doubts []string `json:"doubts"`
	// Paper says in a sentence what a lesson from paper claims.
	Paper string `json:"paper,omitempty"`
}

// MeterRun is an hour meter's two values, with the hours between in tenths.
type MeterRun struct {
	Meter  string  `json:"meter"`
	From   float64 `json:"from"`
	To     float64 `json:"to"`
	Tenths int     `json:"tenths"`
}

// moving are the phases in which an aircraft first moves under its own power.
var moving = []string{"taxi", "hover-taxi", "hover", "lift-off"}

// TimesOf computes what a lesson took by a school's rule.
func TimesOf(state State, rule string) Times {
	t := Times{LessonMinutes: minutes(state.DurationMs), Meters: []MeterRun{}, Rule: rule, Doubts: []string{}}
	first := func(phases ...string) (int64, bool) {
		at, seen := int64(0), false
		for _, i := range state.Items {
			if i.Status != "" && slices.Contains(phases, i.Phase) && (!seen || i.AtMs < at) {
				at, seen = i.AtMs, true
			}
		}
		return at, seen
	}
	if off, moved := first(moving...); moved {
		t.OffMs, t.OnMs = off, state.DurationMs
		if on, shut := first("shutdown"); shut && on > off {
			t.OnMs = on
		}
		t.BlockMinutes = minutes(t.OnMs - t.OffMs)
	}
	var paper *Paper
	if state.Opened != nil && state.Opened.Paper != nil {
		paper = state.Opened.Paper
		t.Paper, t.OffMs, t.OnMs = paper.Words(), 0, 0
		t.BlockMinutes = paper.minutes()
		t.LessonMinutes, t.OnMs = t.BlockMinutes, int64(t.BlockMinutes)*60_000
	}
	for _, meter := range Meters {
		t.meter(meter, state.HourMeter)
	}
	t.FlightMinutes = t.BlockMinutes
	if hours := slices.IndexFunc(t.Meters, func(m MeterRun) bool { return m.Meter == "hour" }); rule == "hour-meter" {
		if hours >= 0 {
			t.FlightMinutes = t.Meters[hours].Tenths * 6
		} else if t.BlockMinutes > 0 {
			t.Rule = "block"
			t.Doubts = append(t.Doubts,
				"The hour meter was not read at both ends: the time from moving off to the shutdown stands in for it.")
		}
	}
	if state.Practice != Practices[0] {
		t.FlightMinutes = 0
	}
	t.GroundMinutes = max(0, t.LessonMinutes-t.FlightMinutes)
	if paper != nil {
		t.GroundMinutes = 0
	}
	return t
}

// meterSlack is by how much an hour meter may count more than the lesson ran:
// it may have been read before the opening.
const meterSlack = 18 // minutes

func (t *Times) meter(meter string, hours []Hours) {
	var from, to *float64
	for _, h := range hours {
		if h.Meter == meter && h.When == "start" {
			from = &h.Value
		}
		if h.Meter == meter && h.When == "end" {
			to = &h.Value
		}
	}
	if from == nil || to == nil || *to < *from {
		return
	}
	m := MeterRun{meter, *from, *to, int(math.Round((*to - *from) * 10))}
	t.Meters = append(t.Meters, m)
	if m.Tenths*6 > t.LessonMinutes+meterSlack && (t.Paper == "" || t.LessonMinutes > 0) {
		name := map[string]string{"hour": "hour meter", "tacho": "tachometer"}[meter]
		t.Doubts = append(t.Doubts,
			fmt.Sprintf("The %s counted %d.%d h in a lesson of %d minutes.", name, m.Tenths/10, m.Tenths%10,
				t.LessonMinutes))
	}
}

// minutes are whole minutes, rounded.
func minutes(ms int64) int { return int(math.Round(float64(ms) / 60_000)) }
