package lesson

import (
	"encoding/json"
	"maps"
	"slices"
	"strconv"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/form"
)

// KindReading is what was read at a measured check.
const KindReading = "reading"

func init() {
	kinds[KindReading] = func() payload { return new(reading) }
	touches["reading"] = (*touch).reading
}

type reading struct {
	Item    string         `json:"item,omitempty"`
	Check   string         `json:"check"`
	Engine  int            `json:"engine,omitempty"`
	Reading map[string]any `json:"reading"`
	// Conditions are those of this reading, where they are not the lesson's.
	Conditions map[string]any `json:"conditions,omitempty"`
	// Source is FromRecorder for what an engine recorder measured; empty for what was
	// read off by a person.
	Source string `json:"source,omitempty"`
}

// FromRecorder is the source of readings that an engine recorder measured.
const FromRecorder = "recorder"

func (r *reading) check() error {
	if _, ok := check.Find(r.Check); !ok {
		return form.Bad("payload.check", "%q is no check", form.Clip(r.Check))
	}
	if r.Reading == nil {
		return form.Bad("payload.reading", "is missing")
	}
	if r.Engine < 0 || r.Engine > 4 {
		return form.Bad("payload.engine", "must be 1 to 4")
	}
	if r.Source != "" && r.Source != FromRecorder {
		return form.Bad("payload.source", "is %q; it is %s or left out", form.Clip(r.Source), FromRecorder)
	}
	return conditionsHold(r.Conditions)
}

func (p *reading) apply(f *fold, h *held) {
	f.read(h, p)
}

// read gives a reading its verdict under the conditions of its moment. Attempts
// count the tries of the same check at the same item, engine and round; one
// that could not be judged uses none up, and what a recorder measured is the try that
// was typed before it.
func (f *fold) read(h *held, p *reading) {
	r := Reading{
		Event: h.ID, Item: p.Item, Check: p.Check, Engine: max(p.Engine, 1), Round: 1, Reading: p.Reading,
		Source: p.Source, AtMs: h.AtMs,
	}
	if i, listed := f.index[p.Item]; listed {
		r.Round = f.roundOf(f.places[i].Phase)
	}
	r.Conditions = maps.Clone(f.state.Conditions)
	maps.Copy(r.Conditions, p.Conditions)
	f.onRunway(&r)
	key := try{r.Item, r.Check, r.Engine, r.Round}
	r.Attempt = f.attempts[key] + 1
	if r.Source == FromRecorder {
		r.Attempt = max(f.attempts[key], 1)
	}
	v := f.verdict(&r, f.asked[key])
	r.Verdict, r.Unusable = v.verdict, v.reason
	if r.judged() {
		f.attempts[key] = r.Attempt
		for _, found := range r.Verdict.Counted {
			if f.asked[key] == nil {
				f.asked[key] = map[check.Place]bool{}
			}
			f.asked[key][found.At()] = true
		}
		f.warmth(r)
	}
	if s := f.item(r.Item); s != nil && v.verdict != nil {
		for _, found := range v.verdict.Findings {
			if act, personal := personal[found.Code]; personal {
				s.spoken = append(s.spoken, Reason{act.code, act.level, found.Message})
			}
		}
	}
	f.state.Readings = append(f.state.Readings, r)
}

// onRunway puts the runway of the lesson into a reading that is taken on it.
func (f *fold) onRunway(r *Reading) {
	i, listed := f.index[r.Item]
	if !listed || !f.places[i].Item.OnRunway {
		return
	}
	r.Conditions["onRunway"] = true
	degrees, known := runwayDegrees(f.state.Opened)
	def, _ := check.Find(r.Check)
	if _, asks := form.Find(def.Fields, "runwayDeg"); !asks || !known || r.Reading["runwayDeg"] != nil {
		return
	}
	r.Reading = maps.Clone(r.Reading)
	r.Reading["runwayDeg"] = degrees
}

// runwayDegrees is the direction of a lesson's runway by its name: 20, or 20L, is
// 200°.
func runwayDegrees(o *Opened) (int, bool) {
	if o == nil {
		return 0, false
	}
	n, err := strconv.Atoi(strings.TrimRight(strings.TrimSpace(o.Runway), "LCR"))
	return n * 10, err == nil && n >= 1 && n <= 36
}

// judged says whether a reading could be judged at all.
func (r Reading) judged() bool { return r.Verdict != nil && r.Verdict.Outcome != check.Invalid }

// warmth notes which gauges were too low for power where they were read, and
// which are no longer.
func (f *fold) warmth(r Reading) {
	if r.Check != "gauges" {
		return
	}
	low := map[string]bool{}
	for _, found := range r.Verdict.Findings {
		low[found.Side] = low[found.Side] || found.Code == "gauge-low"
	}
	for name := range r.Reading {
		n := needle{name, r.Engine}
		if low[name] && r.Item != "" {
			if f.cold[r.Item] == nil {
				f.cold[r.Item] = map[needle]bool{}
			}
			f.cold[r.Item][n] = true
		}
		if !low[name] {
			for _, waits := range f.cold {
				delete(waits, n)
			}
		}
	}
}

func (f *fold) verdict(r *Reading, before map[check.Place]bool) verdictOrReason {
	text, err := json.Marshal(r.Conditions)
	key := verdictKey{r.Event, r.Attempt, placesText(before), string(text)}
	if v, ok := f.verdicts[key]; ok {
		return v
	}
	var given, conditions map[string]any
	if err == nil {
		given, err = numbers(r.Reading)
	}
	if err == nil {
		conditions, err = numbers(r.Conditions)
	}
	out := verdictOrReason{}
	if err == nil {
		var v check.Verdict
		v, err = check.Judge(r.Check, check.Request{
			AircraftType: f.book.Type.ID, Engine: r.Engine, Attempt: r.Attempt, Reading: given, Conditions: conditions,
			Before: placesOf(before),
		}, func(string) (aircraft.Type, bool) { return f.typeAt(r.Item, r.Conditions), true })
		out.verdict = &v
	}
	if err != nil {
		out = verdictOrReason{reason: err.Error()}
	}
	f.verdicts[key] = out
	return out
}

// placesOf are the findings of earlier tries; none is said where there was none.
func placesOf(before map[check.Place]bool) map[check.Place]bool {
	if before == nil {
		return map[check.Place]bool{}
	}
	return before
}

// placesText are places as one text.
func placesText(places map[check.Place]bool) string {
	var out []string
	for p := range places {
		out = append(out, p.Code+"."+p.Side)
	}
	slices.Sort(out)
	return strings.Join(out, " ")
}

// reading keeps what was typed into the item's instrument.
func (t *touch) reading() error {
	place := t.places[t.index[t.mark.Item]]
	def, measured := check.Find(place.Item.Check)
	if !measured {
		return form.Bad("item", "%q is not measured", t.mark.Item)
	}
	built := def.Form(t.station(t.state, place, 1), t.mark.Draft).Build(t.mark.Draft)
	switch {
	case len(built.Missing) > 0:
		return form.Bad("draft."+built.Missing[0], "is still empty")
	case len(built.Wrong) > 0:
		for path, why := range built.Wrong {
			return form.Bad("draft."+path, "%s", why)
		}
	}
	t.add(KindReading, reading{
		Item: t.mark.Item, Check: def.Name, Engine: max(place.Item.Engine, 1), Reading: built.Object,
	})
	return nil
}
