package lesson_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/quantity"
)

// hands works a session as a person does.
type hands struct {
	testing.TB
	*lesson.Session
	ms  int64
	seq int64
	n   int
}

// twin has a list with an item for each engine, and instruments.
func twin(t testing.TB, method string) *hands { return twinOpened(t, method, "") }

// twinOpened is one whose opening event says more: members, each with a comma behind it.
func twinOpened(t testing.TB, method, more string) *hands {
	typ := aircraft.Type{ID: "t", Version: 1, Name: "Twin", Source: "fictional type, handbook", Engines: 2,
		EngineNames: []string{"left", "right"}, StartOrder: []int{1, 2}, LeanOnGround: true,
		Gauges: []aircraft.Gauge{
			{ID: "oil", Label: "oil pressure", Unit: "psi"}, {ID: "temp", Label: "oil temperature", Unit: "°C"},
		},
		Durations: []aircraft.Duration{{ID: "hold", Label: "hold", MinSeconds: 2, MaxSeconds: 10}},
		Limits: map[string]map[string]any{"gauges": {
			"oil": map[string]any{"min": 20, "max": 90}, "temp": map[string]any{"min": 0, "max": 100},
		}, "suction": {"min": 4.5, "max": 5.4},
			"magneto": {
				"base": 1750, "baseTolerance": 25, "dropMax": 130, "differenceMax": 60, "dropMin": 20,
				"recoveryTolerance": 25,
			},
			"engines-differ": {"leftDrop": map[string]any{"apartMax": 40}, "oil": map[string]any{"apartMax": 10}}}}
	list := checklist.List{ID: "l", Title: "L", Version: 1, AircraftType: "t", Phases: []checklist.Phase{
		{
			ID: "a", Title: "Before",
			Items: []checklist.Item{
				{ID: "papers", Challenge: "Papers", Response: "on board"},
				{ID: "brakes", Challenge: "Brakes", Response: "set", Critical: true},
			},
		},
		{ID: "b", Title: "Run-up", Items: []checklist.Item{
			{
				ID: "mag-1", Of: "mag", Per: "each", Engine: 1, Challenge: "Magnetos, left", Response: "checked",
				Check: "magneto", After: []string{"brakes"},
			},
			{
				ID: "mag-2", Of: "mag", Per: "each", Engine: 2, Challenge: "Magnetos, right", Response: "checked",
				Check: "magneto",
			},
			{ID: "apart", Challenge: "Compare", Response: "alike", Check: "engines-differ"}, {
				ID: "suction", Challenge: "Suction", Response: "in the green", Check: "suction", Critical: true,
			}}}}}
	l := lesson.New(lesson.Book{
		Type: typ, List: list,
		Reasons: []checklist.Reason{{Item: "mag", Kind: "added", Why: "a bulletin"}, {Item: "papers", Kind: "dropped"}},
	})
	h := &hands{TB: t, Session: lesson.NewSession(l)}
	payload := fmt.Sprintf(`{`+more+
		`"student":"s","instructor":"i","aircraft":"a","aircraftType":"t","typeVersion":1,"list":"l","listVersion":1,"method":%q,"scale":"five","purpose":"training"}`, method)
	h.Add(lesson.Event{
		ID: h.id(), Device: "d", Seq: h.next(), Counter: 1, Kind: lesson.KindOpened, V: 1,
		Payload: json.RawMessage(payload),
	})
	return h
}

func (h *hands) id() string { h.n++; return fmt.Sprintf("01939c2a-0000-7000-8000-%012x", h.n) }

func (h *hands) next() int64 { h.seq++; return h.seq }

// touch makes one touch and takes it in; it gives the events' kinds.
func (h *hands) touch(m lesson.Mark) string {
	h.Helper()
	kinds, err := h.try(m)
	require.NoError(h, err)
	return kinds
}

func (h *hands) try(m lesson.Mark) (string, error) {
	h.ms += 1000
	events, err := h.Touch(h.State(), m, lesson.Stamp{
		Device: "d", Seq: h.seq, AtMs: h.ms, Wall: "2026-11-24T10:00:00Z", ID: h.id,
	})
	if err != nil {
		return "", err
	}
	var kinds []string
	for i, a := range h.Add(events...) {
		require.Equal(h, "held", a.Status, a.Reason)
		kinds = append(kinds, events[i].Kind)
		h.next()
	}
	return strings.Join(kinds, " "), nil
}

func (h *hands) live() string { return h.Rows()[h.Live(h.State())].Item }

func (h *hands) marks() string {
	var out []string
	for _, i := range h.State().Items {
		out = append(out, i.Mark)
	}
	return strings.Join(out, ",")
}

// TestWhatATouchMeans: every mark as events, the next item opened, a phase
// closed as it is left, all of it taken back by one undo.
func TestWhatATouchMeans(t *testing.T) {
	h := twin(t, "read-and-do")
	assert.Equal(t, "papers", h.live())
	assert.Equal(t, "item-opened", h.touch(lesson.Mark{Name: "open"}), "opened for the first time")
	assert.Equal(t, "", h.touch(lesson.Mark{Name: "open", Item: "papers"}), "live already")
	assert.Equal(t, "prompt item-result item-opened", h.touch(lesson.Mark{Name: "prompted"}))
	assert.Equal(t, "brakes", h.live())
	assert.Equal(t, "item-result item-opened phase-closed", h.touch(lesson.Mark{Name: "done"}))
	assert.True(t, h.State().Phases[0].Closed)
	assert.Equal(t, "undo", h.touch(lesson.Mark{Name: "undo"}))
	assert.Equal(t, "prompted,,,,,", h.marks())
	assert.False(t, h.State().Phases[0].Closed)
	assert.Equal(t, "item-result phase-closed item-result item-result item-opened",
		h.touch(lesson.Mark{Name: "open", Item: "apart"}), "all between are passed")
	assert.True(t, h.State().Items[1].Implied)
	assert.Equal(t, "item-opened", h.touch(lesson.Mark{Name: "open", Item: "brakes"}), "going back passes nothing")
	assert.Equal(t, "item-opened", h.touch(lesson.Mark{Name: "look", Item: "suction"}),
		"looking further on passes nothing either")
	assert.Equal(t, "item-opened", h.touch(lesson.Mark{Name: "look", Item: "brakes"}))
	assert.Equal(t, "phase-closed item-opened", h.touch(lesson.Mark{Name: "pass-phase"}), "what is marked stays")
	for name, want := range map[string]string{"helped": "assist item-result item-opened",
		"wrong": "item-result item-opened", "left-out": "omitted item-opened",
		"not-fitted": "not-applicable item-opened", "shown": "shown item-opened",
		"self-fixed": "self-correction item-result item-opened"} {
		assert.Equal(t, want, h.touch(lesson.Mark{Name: name, Item: "mag-1"}), name)
	}
	assert.Equal(t, "item-result item-result", h.touch(lesson.Mark{Name: "done", Item: "suction"}),
		"nothing follows the last")
	assert.Equal(t, "late item-result item-opened", twin(t, "flow-then-verify").touch(lesson.Mark{Name: "self-fixed"}))
	assert.Equal(t, "lesson-ended", h.touch(lesson.Mark{Name: "end"}))
	assert.Equal(t, "debrief-note", h.touch(lesson.Mark{Name: "comment", Words: " Good. "}))
	for _, c := range []struct {
		mark lesson.Mark
		want string
	}{
		{lesson.Mark{Name: "dance"}, `name "dance" is no mark`},
		{lesson.Mark{Name: "done", Item: "nowhere"}, `item "nowhere" is not on the list`},
		{lesson.Mark{Name: "comment"}, "payload.words must not be empty"},
		{lesson.Mark{Name: "oral", Words: "Why?"}, "level is not chosen yet"},
		{lesson.Mark{Name: "override", Level: ptr(3)}, "why is not given yet"},
		{lesson.Mark{Name: "override", Why: "w"}, "level is not chosen yet"},
		{lesson.Mark{Name: "error", Code: "sloppy"}, `payload.code "sloppy" is no kind of error`},
		{lesson.Mark{Name: "reading", Item: "papers"}, `item "papers" is not measured`},
	} {
		_, err := h.try(c.mark)
		assert.ErrorContains(t, err, c.want)
	}
	assert.Equal(t, "error", h.touch(lesson.Mark{Name: "error", Item: "suction", Code: "eyes-inside"}))
	assert.Equal(t, "wrong", h.State().Errors[0].Severity, "the usual one")
	assert.Equal(t, "grade-override",
		h.touch(lesson.Mark{Name: "override", Item: "papers", Level: ptr(3), Why: "my word came too early"}))
	assert.Equal(t, 3, *h.State().Items[0].Level)
	assert.Equal(t, "oral", h.touch(lesson.Mark{Name: "oral", Item: "papers", Words: "Why?", Level: ptr(2)}))
	assert.Equal(t, "timer-started", h.touch(lesson.Mark{Name: "timer", Item: "papers", Timer: "hold"}))
	assert.Equal(t, "timer-stopped", h.touch(lesson.Mark{Name: "timer", Item: "papers", Timer: "hold"}))
	assert.Equal(t, 1.0, *h.State().Timers[0].Seconds)
	assert.Equal(t, "note",
		h.touch(lesson.Mark{Name: "brief", Item: "suction", Heard: []string{"runway", "wind", "who"}}))
	assert.Contains(t, h.State().Notes[0].Words, "Brief: 3 of 11 heard; not heard: configuration, speeds,")
}

func ptr[T any](v T) *T { return &v }

// TestRowsAsTheyAreShown: engines side by side share a number, without their
// names; what must come first and why a line is there are told.
func TestRowsAsTheyAreShown(t *testing.T) {
	var said []string
	for _, r := range twin(t, "read-and-do").Rows() {
		said = append(said,
			fmt.Sprintf("%s %s %s/%s %v %s %v %d", r.Number, r.Item, r.Challenge, r.Engine, r.Mates, r.Kind, r.Before,
				len(r.Why)))
	}
	assert.Equal(t,
		[]string{"1.1 papers Papers/ [0] item [] 0", "1.2 brakes Brakes/ [1] critical [] 0",
			"2.1 mag-1 Magnetos/left [2 3] measured [Brakes] 1",
			"2.1 mag-2 Magnetos/right [2 3] measured [] 1", "2.2 apart Compare/ [4] measured [] 0",
			"2.3 suction Suction/ [5] measured, critical [] 0"}, said)
}

// TestAReadingFromBoxesToDecision: typed, judged while it is typed, kept,
// repeated, decided on against a stop only with a reason.
func TestAReadingFromBoxesToDecision(t *testing.T) {
	h := twin(t, "read-and-do")
	panel := func(item string, draft form.Draft) lesson.Panel {
		p, err := h.Panel(h.State(), item, draft)
		require.NoError(t, err)
		return p
	}
	p := panel("suction", nil)
	assert.True(t, p.Entering)
	assert.Equal(t, []string{"inHg"}, p.Missing)
	assert.Equal(t, "handbook", p.Source)
	p = panel("suction", form.Draft{"inHg": "3.9"})
	assert.Equal(t, check.Out, p.State)
	assert.Equal(t, "Out of limits: stop here", p.Words)
	comma := panel("suction", form.Draft{"inHg": "3,9"})
	assert.Equal(t, p.Verdict, comma.Verdict, "a decimal comma is a point")
	_, err := h.try(lesson.Mark{Name: "reading", Item: "suction", Draft: form.Draft{"inHg": "3,900"}})
	assert.ErrorContains(t, err, "write 3900, or 3.900 with a point")
	_, err = h.try(lesson.Mark{Name: "reading", Item: "suction", Draft: form.Draft{}})
	assert.ErrorContains(t, err, "draft.inHg is still empty")
	assert.Equal(t, "reading", h.touch(lesson.Mark{Name: "reading", Item: "suction", Draft: form.Draft{"inHg": "3.9"}}))
	p = panel("suction", nil)
	assert.False(t, p.Entering)
	assert.True(t, p.Asks, "a stop asks for a person's decision")
	assert.Equal(t, "first try", p.TryWords)
	_, err = h.try(lesson.Mark{Name: "decide", About: p.Event, Decision: "carried-on", Told: "Bo"})
	assert.ErrorContains(t, err, "why is not said yet")
	h.touch(lesson.Mark{Name: "decide", About: p.Event, Decision: "carried-on", Told: "Bo", Why: "day, visual"})
	assert.False(t, panel("suction", nil).Asks)

	again := panel("suction", form.Draft{"inHg": "5"})
	assert.Equal(t, "second try", again.TryWords)
	require.Len(t, again.Earlier, 1)
	assert.Equal(t, "suction 3.9 inHg", again.Earlier[0].Said)

	for _, m := range []lesson.Mark{
		{Name: "finding", Decision: "grounded", Told: "Bo"}, {Name: "finding", Words: "worn", Told: "Bo"},
		{Name: "finding", Words: "worn", Decision: "grounded"},
	} {
		_, err := h.try(m)
		assert.Error(t, err)
	}
	assert.Equal(t, "finding decision",
		h.touch(lesson.Mark{
			Name: "finding", Item: "suction", Words: "worn", Decision: "grounded", Told: "Bo", About: p.Event,
		}))
	assert.Equal(t, "grounded", h.State().Findings[0].Decision.Decision, "the decision is about its finding")
	assert.Empty(t, h.State().Problems)
}

// TestEnginesBesideEachOther: the panel of one engine tells what the other
// showed, and the comparison begins with what both have shown.
func TestEnginesBesideEachOther(t *testing.T) {
	h := twin(t, "read-and-do")
	magneto := func(item, left string) {
		h.touch(lesson.Mark{
			Name: "reading", Item: item,
			Draft: form.Draft{
				"unit": "rpm", "base": "1750", "left": left, "bothAfterLeft": "1750", "right": "1660",
				"bothAfterRight": "1750",
			},
		})
	}
	p, err := h.Panel(h.State(), "mag-2", nil)
	require.NoError(t, err)
	assert.Equal(t, []lesson.Neighbor{{Engine: "left"}}, p.Beside)
	magneto("mag-1", "1654")
	p, err = h.Panel(h.State(), "mag-2", nil)
	require.NoError(t, err)
	assert.Equal(t, "Within limits", p.Beside[0].Try.Words)
	magneto("mag-2", "1600")
	p, err = h.Panel(h.State(), "apart", nil)
	require.NoError(t, err)
	assert.Equal(t, form.Draft{"leftDrop.left": "96", "leftDrop.right": "150"}, p.Draft)
	require.Len(t, p.Strips, 2)
	assert.Equal(t, 54.0, *p.Strips[0].Value)

	p, err = h.Panel(h.State(), "mag-2", nil)
	require.NoError(t, err)
	require.Len(t, p.Tiles, 3)
	assert.Equal(t, check.Tile{
		Label: "left drop", Value: "150", Limit: "of 130 rpm", State: check.Out, Words: "20 rpm over",
	}, p.Tiles[0])
	assert.Equal(t, check.Unjudged, p.Tiles[2].State, "the difference is not judged beside an excessive drop")
	require.Len(t, p.Trace.Points, 5)
	assert.Equal(t, 1750.0, p.Trace.Top)
	_, err = h.Panel(h.State(), "papers", nil)
	assert.ErrorContains(t, err, "is not measured")
}

// TestALessonIsOpenedFromWhatWasChosen: typed numbers are read strictly, the
// list is tailored, and what is missing is named.
func TestALessonIsOpenedFromWhatWasChosen(t *testing.T) {
	book := twin(t, "read-and-do").Book()
	c := lesson.Choice{Student: "s", Instructor: "i", Aircraft: "QZ-AAA", ElevationFt: 412, Method: "read-and-do",
		Scale: "five", Purpose: "training", Runway: "20",
		Wind: "190/11G18", Date: "2026-11-24", Day: checklist.FreshDay(), List: book.List, Type: book.Type}
	c.List = checklist.List{
		ID: "l", Title: "L", Version: 1, AircraftType: "t", Source: "s",
		Phases: []checklist.Phase{
			{
				ID: "p", Title: "P",
				Items: []checklist.Item{{ID: "x", Challenge: "X", Response: "y", Why: "z", NoStandard: "none"}},
			},
		},
	}
	c.Day.OAT, c.Day.QNH = "12.5", "1013"
	o, err := c.Opened()
	require.NoError(t, err)
	assert.Equal(t, map[string]any{
		"rules": "VFR", "engineState": "cold", "elevationFt": 412, "date": "2026-11-24", "night": false,
		"oatC": json.Number("12.5"), "qnhHPa": json.Number("1013"),
	}, o.Conditions)
	assert.Equal(t, 11.0, *o.Day.WindKt)
	assert.Equal(t, 18.0, *o.Day.GustKt)
	assert.Len(t, o.Flown.List.Phases, 1)
	for want, change := range map[string]func(c *lesson.Choice){
		"student is not chosen yet":                     func(c *lesson.Choice) { c.Student = "" },
		"aircraft is not chosen yet":                    func(c *lesson.Choice) { c.Aircraft = "" },
		"aircraft has no checklist in force":            func(c *lesson.Choice) { c.List = checklist.List{} },
		"wind “strong” is not written like 190/11":      func(c *lesson.Choice) { c.Wind = "strong" },
		"oat “12,500”: write 12500, or 12.500":          func(c *lesson.Choice) { c.Day.OAT = "12,500" },
		"qnh 840 is outside 850 to 1090 hPa":            func(c *lesson.Choice) { c.Day.QNH = "840" },
		"dew point, 14 °C, cannot be above the outside": func(c *lesson.Choice) { c.Day.Dew = "14" },
		"payload.method must be one of":                 func(c *lesson.Choice) { c.Method = "guess" },
	} {
		wrong := c
		change(&wrong)
		_, err := wrong.Opened()
		assert.ErrorContains(t, err, want)
	}
}

// TestAFahrenheitSchool: what is typed in °F and inHg is kept as it was read,
// judged exactly, and shown to each in the units they read.
func TestAFahrenheitSchool(t *testing.T) {
	h := twin(t, "read-and-do")
	american := quantity.Units{Temperature: "°F", Pressure: "inHg"}
	book := h.Book()
	book.List.Phases[1].Items = append(book.List.Phases[1].Items, checklist.Item{
		ID: "oil", Challenge: "Oil", Response: "warm", Check: "gauges", Gauges: []string{"temp"},
	})
	h.Session = lesson.NewSession(lesson.New(book))
	h.Add(lesson.Event{
		ID: h.id(), Device: "d", Seq: h.next(), Counter: 1, Kind: lesson.KindOpened, V: 1,
		Payload: json.RawMessage(`{"student":"s","instructor":"i","aircraft":"a","aircraftType":"t","typeVersion":1,"list":"l","listVersion":1,"method":"read-and-do","scale":"five","purpose":"training"}`),
	})
	c := lesson.Choice{Student: "s", Instructor: "i", Aircraft: "a", ElevationFt: 412, Method: "read-and-do",
		Scale: "five", Purpose: "training", Wind: "190/11", Date: "2026-11-24",
		Day: checklist.FreshDay(), List: book.List, Type: book.Type}
	c.Day.Units, c.Day.OAT, c.Day.Dew, c.Day.QNH = american, "41", "33.8", "29.92"
	for i := range c.List.Phases {
		for j := range c.List.Phases[i].Items {
			c.List.Phases[i].Items[j].Why, c.List.Phases[i].Items[j].NoStandard = "why", "none"
		}
	}
	c.List.Source = "s"
	o, err := c.Opened()
	require.NoError(t, err)
	assert.Equal(t, map[string]any{"value": json.Number("41"), "unit": "°F"}, o.Conditions["oatC"], "as it was read")
	assert.Equal(t, map[string]any{"value": json.Number("29.92"), "unit": "inHg"}, o.Conditions["qnhHPa"])
	assert.Equal(t, []float64{5, 1, 1013.21}, []float64{*o.Day.OATC, *o.Day.DewPointC, *o.Day.QNHHPa})
	c.Day.OAT = "141"
	_, err = c.Opened()
	assert.ErrorContains(t, err, "oat 141 is outside -76 to 140 °F")

	h.Units = american
	h.touch(lesson.Mark{Name: "conditions", Day: &checklist.TypedDay{OAT: "50", Units: american}})
	assert.Equal(t, map[string]any{"value": 50.0, "unit": "°F"}, h.State().Conditions["oatC"])
	p, err := h.Panel(h.State(), "oil", nil)
	require.NoError(t, err)
	assert.Equal(t, "°F", p.Boxes[0].Unit)
	assert.Equal(t, []float64{32, 212}, []float64{*p.Strips[0].Min, *p.Strips[0].Max})
	for typed, want := range map[string]string{
		"212": "", "213": "The oil temperature reads 213 °F; the highest allowed is 212 °F.",
	} {
		p, err = h.Panel(h.State(), "oil", form.Draft{"temp": typed})
		require.NoError(t, err)
		said := ""
		if len(p.Verdict.Findings) > 0 {
			said = p.Verdict.Findings[0].Message
		}
		assert.Equal(t, want, said, "a limit of 100 °C")
	}
	h.touch(lesson.Mark{Name: "reading", Item: "oil", Draft: form.Draft{"temp": "213"}})
	r := h.State().Readings[0]
	assert.Equal(t, map[string]any{"temp": map[string]any{"value": 213.0, "unit": "°F"}}, r.Reading)
	assert.Equal(t, "The oil temperature reads 100.56 °C; the highest allowed is 100 °C.",
		r.Verdict.Findings[0].Message, "in the units of the rules")
	assert.Equal(t, "The oil temperature reads 213 °F; the highest allowed is 212 °F.",
		h.State().In(american).Readings[0].Verdict.Findings[0].Message)
	def, _ := check.Find("gauges")
	at := check.Station{Type: book.Type, Gauges: []string{"temp"}}
	assert.Equal(t, "oil temperature 100.56 °C (read as 213 °F)", def.Said(at, r.Reading))
	at.Units = american
	assert.Equal(t, "oil temperature 213 °F", def.Said(at, r.Reading))
	_, err = check.Judge("gauges", check.Request{
		AircraftType: "t", Engine: 1, Attempt: 1, Reading: map[string]any{"oil": form.Measured("60", "°F")},
	}, func(string) (aircraft.Type, bool) { return book.Type, true })
	assert.ErrorContains(t, err, "a number in psi is not given in °F")
	_, err = check.Judge("gauges", check.Request{
		AircraftType: "t", Engine: 1, Attempt: 1, Reading: map[string]any{"temp": form.Measured("60", "gal")},
	}, func(string) (aircraft.Type, bool) { return book.Type, true })
	assert.ErrorContains(t, err, "reading.temp.unit cannot be used: a number in °C is not given in gal")
}

// TestThreeThingsToFix: the lowest first, a critical one before its like, with
// why and what was measured; no more than three.
func TestThreeThingsToFix(t *testing.T) {
	h := twin(t, "read-and-do")
	assert.Empty(t, h.ToFix(h.State(), nil))
	h.touch(lesson.Mark{Name: "prompted", Item: "papers"})
	h.touch(lesson.Mark{Name: "prompted", Item: "brakes"})
	h.touch(lesson.Mark{Name: "wrong", Item: "mag-1"})
	h.touch(lesson.Mark{Name: "reading", Item: "suction", Draft: form.Draft{"inHg": "4.2"}})
	h.touch(lesson.Mark{Name: "left-out", Item: "suction"})
	fixes := h.ToFix(h.State(), map[string]lesson.Tally{
		"suction": {Lessons: 4, Low: 2}, "mag-1": {Lessons: 1}, "brakes": {Lessons: 3},
	})
	require.Len(t, fixes, 3)
	assert.Equal(t, []string{"suction", "mag-1", "brakes"}, []string{fixes[0].Item, fixes[1].Item, fixes[2].Item})
	assert.Contains(t, fixes[0].Measured, "Suction is 4.2 inHg")
	assert.NotEmpty(t, fixes[2].Why)
	assert.Equal(t, []string{
		"not right in 3 of 5 lessons", "right in the lesson before", "right in the 3 lessons before",
	}, []string{fixes[0].Lately, fixes[1].Lately, fixes[2].Lately})
}
