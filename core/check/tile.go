package check

import (
	"fmt"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Scale declares one printed scale of a check: what stands on it and between
// which limits it has to lie. Screens and reference pages draw it as it is
// declared.
type Scale struct {
	Label string `json:"label"`
	Unit  string `json:"unit,omitempty"`
	// Of is the field of the reading, or of each of its rows ("sides.volts");
	// or, where Computed, the verdict's value of that name.
	Of       string `json:"of"`
	Computed bool   `json:"computed,omitempty"`
	// Low and High name limits. CautionHigh is a limit that may be passed for a
	// time, or recorded.
	Low         string `json:"low,omitempty"`
	High        string `json:"high,omitempty"`
	CautionHigh string `json:"cautionHigh,omitempty"`
	// Side is the side of the findings that are about this scale.
	Side string `json:"side,omitempty"`
	// Last is judged only when every scale before it lies within its limits.
	Last bool `json:"last,omitempty"`
	// Around names the limit or condition in the middle of a tolerance, empty
	// for zero; Within names the tolerance.
	Around string `json:"around,omitempty"`
	Within string `json:"within,omitempty"`
	// Unless is a finding that leaves the scale unjudged.
	Unless string `json:"unless,omitempty"`
	// Followed says that the number is the aircraft's and not the person's: its trend
	// is followed over the aircraft's hours.
	Followed bool `json:"-"`
}

// State is how a number stands to its limit.
type State string

// The states of a number.
const (
	Within   State = "within"
	Attend   State = "attend"
	Out      State = "out"
	Unjudged State = "unjudged"
)

// StateOf is how a reading as a whole stands, by its outcome.
func StateOf(o Outcome) State {
	switch o {
	case Normal:
		return Within
	case Abnormal:
		return Out
	}
	return Attend
}

// Tile is one number that a verdict turns on, with its limit and its word.
type Tile struct {
	Label string `json:"label"`
	Value string `json:"value"`
	Limit string `json:"limit"`
	State State  `json:"state"`
	Words string `json:"words"`
}

// tiles are the computed scales of a verdict, each held to its limits as the
// findings have it.
func (d Definition) tiles(v Verdict, t form.Tachometer) []Tile {
	tiles := []Tile{}
	inside := true // whether every scale so far lies within its limits
	for _, s := range d.Scales {
		if !s.Computed || !has(v.Values, s.Of) {
			continue
		}
		unit := unitWords(t.UnitOf(form.Field{Unit: s.Unit}))
		tile := Tile{
			Label: s.Label, Value: "–", Limit: s.limitWords(v.Limits, unit), State: Unjudged, Words: "not judged",
		}
		value, known := asValue(v.Values.Get(s.Of))
		if known {
			tile.Value = value.String()
			if s.Within != "" && value.Sign() > 0 {
				tile.Value = "+" + tile.Value
			}
		}
		s.judge(&tile, v, value, known, inside, unit)
		inside = inside && tile.State != Out && tile.State != Attend
		tiles = append(tiles, tile)
	}
	return tiles
}

// judge gives a tile its state and its words.
func (s Scale) judge(tile *Tile, v Verdict, value quantity.Value, known, inside bool, unit string) {
	hard := Attend
	if v.Outcome == Abnormal {
		hard = Out
	}
	low, high, bounded := s.bounds(v.Limits)
	switch {
	case s.Side != "" && v.finds("engine-stopped", s.Side):
		tile.State, tile.Words = hard, "engine stopped"
	case known && s.Last && !inside:
		tile.Words = "once both are within"
	case !known, s.Unless != "" && v.finds(s.Unless, ""):
	case bounded.low && value.Below(low):
		tile.State, tile.Words = hard, fmt.Sprintf("at least %s %s must be seen", low, unit)
	case v.Outcome == Invalid:
	case bounded.high && value.Above(high):
		tile.State, tile.Words = hard, fmt.Sprintf("%s %s over", value.Sub(high), unit)
	case s.Side != "" && v.finds("rough-running", s.Side):
		tile.State, tile.Words = Attend, "within, but rough"
	default:
		tile.State, tile.Words = Within, "within"
	}
}

// bounds are the limits between which the scale's number has to lie.
func (s Scale) bounds(limits form.Object) (low, high quantity.Value, bounded struct{ low, high bool }) {
	if s.Within != "" {
		by, ok := asValue(limits.Get(s.Within))
		bounded.low, bounded.high = ok, ok
		return quantity.Value{}.Sub(by), by, bounded
	}
	low, bounded.low = asValue(limits.Get(s.Low))
	high, bounded.high = asValue(limits.Get(s.High))
	return low, high, bounded
}

// limitWords is the scale's limit as it stands beside the number.
func (s Scale) limitWords(limits form.Object, unit string) string {
	low, high, bounded := s.bounds(limits)
	switch {
	case s.Within != "":
		return fmt.Sprintf("within %s %s", high, unit)
	case !bounded.high:
		return fmt.Sprintf("at least %s %s", low, unit)
	case bounded.low && s.Side == "":
		return fmt.Sprintf("of %s to %s %s", low, high, unit)
	}
	return fmt.Sprintf("of %s %s", high, unit)
}

func (v Verdict) finds(code, side string) bool {
	for _, f := range v.Findings {
		if f.Code == code && (side == "" || f.Side == side) {
			return true
		}
	}
	return false
}

func has(o form.Object, name string) bool {
	for _, m := range o {
		if m.Name == name {
			return true
		}
	}
	return false
}

// asValue is a computed value as a number; none where it could not be computed.
func asValue(v any) (quantity.Value, bool) {
	switch n := v.(type) {
	case quantity.Value:
		return n, true
	case *quantity.Value:
		if n != nil {
			return *n, true
		}
	}
	return quantity.Value{}, false
}

// unitWords is a tachometer's unit as it is printed behind a number.
func unitWords(unit string) string {
	if unit == form.Percent.Unit {
		return "%"
	}
	return unit
}

// UnitOn is the unit of the scale's number on a type, as it is printed.
func (s Scale) UnitOn(t aircraft.Type) string {
	return unitWords(form.TachometerIn(t.Tachometer).UnitOf(form.Field{Unit: s.Unit}))
}
