package lesson

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/check"
)

// Strip is a lesson laid out in time: milliseconds from its opening.
type Strip struct {
	EndMs    int64          `json:"endMs"`
	Phases   []StripPhase   `json:"phases"`
	Ticks    []StripTick    `json:"ticks"`
	Readings []StripReading `json:"readings"`
	Timers   []StripTimer   `json:"timers"`
	Moments  []StripMoment  `json:"moments"`
	// Weather is the day at the opening, and again wherever it changed.
	Weather []StripWeather `json:"weather"`
	// Speeds are what the readings say of each engine's speed, as plain steps.
	Speeds []StripSpeeds `json:"speeds"`
}

// StripPhase is where the first item of a phase was marked.
type StripPhase struct {
	ID     string `json:"id"`
	Title  string `json:"title"`
	FromMs int64  `json:"fromMs"`
}

// StripTick is a marked item. Those passed in one touch stand side by side
// between the touch before and this one.
type StripTick struct {
	AtMs int64  `json:"atMs"`
	Item string `json:"item"`
	Mark string `json:"mark"`
}

// StripReading is a reading with its verdict in few words.
type StripReading struct {
	AtMs  int64       `json:"atMs"`
	Event string      `json:"event"`
	Item  string      `json:"item"`
	Words string      `json:"words"`
	State check.State `json:"state"`
	// Band is the number of the reading that stood nearest its limit, or beyond
	// it by most, on its scale; none where nothing that was read has a limit.
	Band *check.Strip `json:"band,omitempty"`
}

// StripWeather is the day in words from a moment on.
type StripWeather struct {
	AtMs  int64  `json:"atMs"`
	Words string `json:"words"`
}

// StripTimer is a timer that ran.
type StripTimer struct {
	Label   string `json:"label"`
	FromMs  int64  `json:"fromMs"`
	ToMs    int64  `json:"toMs"`
	Running bool   `json:"running"`
}

// StripMoment is something that happened: an error, a finding, a note.
type StripMoment struct {
	AtMs  int64       `json:"atMs"`
	Kind  string      `json:"kind"`
	Item  string      `json:"item,omitempty"`
	Words string      `json:"words"`
	State check.State `json:"state"`
}

// StripSpeeds are the speeds of one engine.
type StripSpeeds struct {
	Engine string       `json:"engine"`
	Unit   string       `json:"unit"`
	Points []StripSpeed `json:"points"`
}

// StripSpeed is a speed that was seen.
type StripSpeed struct {
	AtMs  int64   `json:"atMs"`
	Value float64 `json:"value"`
}

// Strip lays a state out in time.
func (s *Session) Strip(state State) Strip {
	out := StripOf(state, func(item string) string {
		if i, known := s.index[item]; known {
			return s.places[i].Item.Challenge
		}
		return ""
	})
	for i, r := range out.Readings {
		out.Readings[i].Words = s.Units.Say(r.Words)
		if shown, err := s.Instrument(state, r.Event); err == nil {
			out.Readings[i].Band = check.Nearest(shown.Strips)
		}
	}
	for i := range out.Moments {
		out.Moments[i].Words = s.Units.Say(out.Moments[i].Words)
	}
	out.Speeds, out.Weather = s.speeds(state), s.weather(state)
	return out
}

// weather is the day as it was known at the opening and after each change, one
// that was taken back included.
func (s *Session) weather(state State) []StripWeather {
	out, then, changes := []StripWeather{}, New(s.book), map[string]bool{}
	for _, h := range s.sorted() {
		then.Add(h.Event)
		told := h.Kind == KindOpened || h.Kind == KindConditions
		if told {
			changes[h.ID] = true
		}
		if u, takesBack := h.payload.(*undo); takesBack {
			told = slices.ContainsFunc(u.Targets, func(id string) bool { return changes[id] })
		}
		if !told {
			continue
		}
		words := s.DayWords(then.State())
		if n := len(out); n > 0 && out[n-1].Words == words || n == 0 && words == "" {
			continue
		}
		out = append(out, StripWeather{min(h.AtMs, state.DurationMs), words})
	}
	return out
}

// StripOf lays a state out in time without its engines' speeds; challenge names
// an item.
func StripOf(state State, challenge func(item string) string) Strip {
	out := Strip{
		EndMs: max(state.DurationMs, 1), Phases: []StripPhase{}, Ticks: []StripTick{}, Readings: []StripReading{},
		Timers: []StripTimer{}, Moments: []StripMoment{}, Weather: []StripWeather{}, Speeds: []StripSpeeds{},
	}
	for _, i := range state.Items {
		if i.Status != "" {
			out.Ticks = append(out.Ticks, StripTick{i.AtMs, i.ID, i.Mark})
		}
	}
	slices.SortStableFunc(out.Ticks, func(a, b StripTick) int { return cmp.Compare(a.AtMs, b.AtMs) })
	spread(out.Ticks)
	first := map[string]int64{}
	phase := map[string]string{}
	for _, i := range state.Items {
		phase[i.ID] = i.Phase
	}
	for _, t := range out.Ticks {
		if at, seen := first[phase[t.Item]]; !seen || t.AtMs < at {
			first[phase[t.Item]] = t.AtMs
		}
	}
	for _, p := range state.Phases {
		if at, seen := first[p.ID]; seen {
			out.Phases = append(out.Phases, StripPhase{p.ID, p.Title, at})
		}
	}
	slices.SortStableFunc(out.Phases, func(a, b StripPhase) int { return cmp.Compare(a.FromMs, b.FromMs) })
	for _, r := range state.Readings {
		one := StripReading{
			AtMs: r.AtMs, Event: r.Event, Item: r.Item, Words: cmp.Or(challenge(r.Item), r.Check) + ": not judged",
			State: check.Unjudged,
		}
		if r.Verdict != nil {
			one.State = check.StateOf(r.Verdict.Outcome)
			one.Words = cmp.Or(challenge(r.Item), r.Check) + ": " +
				strings.ToLower(check.OutcomeWords(r.Verdict.Outcome))
			if len(r.Verdict.Findings) > 0 {
				one.Words += ". " + r.Verdict.Findings[0].Message
			}
		}
		out.Readings = append(out.Readings, one)
	}
	for _, t := range state.Timers {
		one := StripTimer{
			Label: strings.ReplaceAll(t.Timer, "-", " "), FromMs: t.StartedMs, ToMs: state.DurationMs,
			Running: t.Running,
		}
		if t.Seconds != nil {
			one.ToMs = t.StartedMs + int64(*t.Seconds*1000)
		}
		out.Timers = append(out.Timers, one)
	}
	out.moments(state)
	return out
}

// spread sets ticks of one moment side by side, in the time since the one
// before; no more than two seconds each.
func spread(ticks []StripTick) {
	const most = 2000
	for from := 0; from < len(ticks); {
		to := from
		for to < len(ticks) && ticks[to].AtMs == ticks[from].AtMs {
			to++
		}
		before := int64(0)
		if from > 0 {
			before = ticks[from-1].AtMs
		}
		n := int64(to - from)
		step := min((ticks[from].AtMs-before)/n, most)
		for i := from; i < to; i++ {
			ticks[i].AtMs -= step * int64(to-1-i)
		}
		from = to
	}
}

func (s *Strip) moments(state State) {
	add := func(at int64, kind, item, words string, stands check.State) {
		s.Moments = append(s.Moments, StripMoment{at, kind, item, words, stands})
	}
	for _, e := range state.Errors {
		stands := check.Attend
		if e.Severity == "unsafe" {
			stands = check.Out
		}
		add(e.AtMs, "error", e.Item, strings.TrimSpace(e.Label+" "+e.Words), stands)
	}
	for _, f := range state.Findings {
		add(f.AtMs, "finding", f.Item, f.Words, check.Out)
	}
	for _, n := range state.Notes {
		add(n.AtMs, "note", n.Item, n.Words, check.Unjudged)
	}
	slices.SortStableFunc(s.Moments, func(a, b StripMoment) int { return cmp.Compare(a.AtMs, b.AtMs) })
}

// apartMs is how far apart the numbers of one reading are drawn.
const apartMs = 5000

// speeds are the numbers that readings give of each engine's speed.
func (s *Session) speeds(state State) []StripSpeeds {
	out := []StripSpeeds{}
	for _, r := range state.Readings {
		at, known := s.index[r.Item]
		def, measured := check.Find(r.Check)
		if !known || !measured || r.Verdict == nil {
			continue
		}
		seen := def.Speeds(s.station(state, s.places[at], r.Attempt), r.Reading)
		if len(seen) == 0 {
			continue
		}
		engine := ""
		if s.book.Type.Engines > 1 {
			engine = s.book.Type.EngineName(max(r.Engine, 1))
		}
		i := slices.IndexFunc(out, func(o StripSpeeds) bool { return o.Engine == engine })
		if i < 0 {
			unit := "rpm"
			if s.book.Type.Tachometer == "percent" {
				unit = "%"
			}
			i, out = len(out), append(out, StripSpeeds{engine, unit, []StripSpeed{}})
		}
		for n, v := range seen {
			out[i].Points = append(out[i].Points, StripSpeed{max(0, r.AtMs-apartMs*int64(len(seen)-1-n)), v})
		}
	}
	for i := range out {
		slices.SortStableFunc(out[i].Points, func(a, b StripSpeed) int { return cmp.Compare(a.AtMs, b.AtMs) })
	}
	return out
}

// At is the lesson as it stood at a moment: the state of the events up to it.
func (s *Session) At(ms int64) State {
	then := New(s.book)
	for _, h := range s.sorted() {
		if h.AtMs <= ms && h.Kind != KindSealed || h.Kind == KindOpened {
			then.Add(h.Event)
		}
	}
	return then.State()
}

// DayWords are the conditions of a state in words, such as "9 °C, 1007 hPa,
// engine cold, VFR, by night".
func (s *Session) DayWords(state State) string {
	c := state.Conditions
	var said []string
	for _, one := range []struct{ name, unit string }{{"oatC", " °C"}, {"qnhHPa", " hPa"}, {"windKt", " kt of wind"}} {
		if v, known := asText(c[one.name]); known {
			said = append(said, s.Units.Say(v+one.unit))
		}
	}
	if engine, known := c["engineState"].(string); known && engine != "" {
		said = append(said, "engine "+engine)
	}
	if rules, known := c["rules"].(string); known && rules != "" {
		said = append(said, rules)
	}
	if night, known := c["night"].(bool); known {
		said = append(said, map[bool]string{true: "by night", false: "by day"}[night])
	}
	return strings.Join(said, ", ")
}

// Instrument is a reading of the state as it was kept, on its scales.
func (s *Session) Instrument(state State, event string) (check.Instrument, error) {
	for _, r := range state.Readings {
		at, known := s.index[r.Item]
		def, measured := check.Find(r.Check)
		if r.Event != event || !known || !measured {
			continue
		}
		station := s.station(state, s.places[at], r.Attempt)
		station.Conditions, _ = numbers(r.Conditions)
		shown := def.Show(station, r.Reading)
		if r.Verdict != nil {
			judged := check.JudgedBy(*r.Verdict, s.Units)
			if r.Verdict.Tiles == nil {
				judged.Tiles = shown.Tiles
			}
			shown.Judged = judged
		}
		return shown, nil
	}
	return check.Instrument{}, fmt.Errorf("%q is no reading of the lesson", event)
}
