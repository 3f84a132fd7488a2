package compare

import (
	"cmp"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
)

// LogEntry is a first try of a measured check on an aircraft, as it was judged, or a
// piece of maintenance on what the item tests.
type LogEntry struct {
	Hours  float64 `json:"hours"`
	Day    string  `json:"day"`
	Lesson string  `json:"lesson"`
	Check  string  `json:"check"`
	Engine int     `json:"engine"`
	Item   string  `json:"item"`
	// Reading and Verdict are as they were kept; both are empty of maintenance, with
	// what was done in Words.
	Reading json.RawMessage `json:"-"`
	Verdict json.RawMessage `json:"-"`
	Words   string          `json:"-"`
}

// Point is one reading of a series, with the weighted average after it.
type Point struct {
	Hours   float64 `json:"hours"`
	Value   float64 `json:"value"`
	Average float64 `json:"average"`
	Day     string  `json:"day"`
	Lesson  string  `json:"lesson"`
}

// Restart is maintenance from which a series began anew.
type Restart struct {
	Hours float64 `json:"hours"`
	Day   string  `json:"day"`
	Words string  `json:"words"`
}

// Series is one number of an aircraft that is read again and again.
type Series struct {
	ID     string `json:"id"`
	Check  string `json:"check"`
	Title  string `json:"title"`
	Label  string `json:"label"`
	Unit   string `json:"unit"`
	Engine int    `json:"engine,omitempty"`
	Item   string `json:"item"`
	// Low and High are the limits that the newest reading was held to.
	Low      *float64  `json:"low,omitempty"`
	High     *float64  `json:"high,omitempty"`
	Points   []Point   `json:"points"`
	Restarts []Restart `json:"restarts"`
	Trend    Trend     `json:"trend"`
	// Toward is the limit that the trend is told to: above, below, or none.
	Toward string `json:"toward" enum:"above,below,"`
	// State is within while nothing is to be looked at, attend for a trend to its
	// limit, out beyond it; Words say so.
	State check.State `json:"state"`
	Words string      `json:"words"`
	Long  string      `json:"long"`
}

// Repeated are the numbers of an aircraft over its hours, those to look at first,
// then in the order a flight meets them. The tries are in the order of their time.
func Repeated(log []LogEntry, t aircraft.Type) []Series {
	out := []Series{}
	at := map[string]int{}
	readings := map[string][]Reading{}
	worked := map[string]bool{} // since its last reading
	for _, one := range log {
		if one.Verdict == nil {
			for i := range out {
				if out[i].Item == one.Item && (one.Engine == 0 || out[i].Engine == one.Engine) {
					out[i].Restarts = append(out[i].Restarts, Restart{one.Hours, one.Day, one.Words})
					worked[out[i].ID] = true
				}
			}
			continue
		}
		for _, n := range numbers(one, t) {
			i, known := at[n.ID]
			if !known {
				i, at[n.ID] = len(out), len(out)
				out = append(out, n)
			}
			s := &out[i]
			s.Low, s.High = n.Low, n.High
			readings[n.ID] = append(readings[n.ID], Reading{one.Hours, n.Points[0].Value, worked[n.ID]})
			worked[n.ID] = false
			if known {
				s.Points = append(s.Points, n.Points[0])
			}
		}
	}
	for i := range out {
		out[i].project(readings[out[i].ID])
	}
	order := map[string]int{}
	for i, d := range check.All() {
		order[d.Name] = i
	}
	severity := map[check.State]int{check.Out: 0, check.Attend: 1, check.Within: 2}
	slices.SortStableFunc(out, func(a, b Series) int {
		return cmp.Or(severity[a.State]-severity[b.State], order[a.Check]-order[b.Check], a.Engine-b.Engine)
	})
	return out
}

// numbers are what one try says of the aircraft: one series each, with its point.
func numbers(one LogEntry, t aircraft.Type) (out []Series) {
	d, known := check.Find(one.Check)
	var v struct {
		Outcome string         `json:"outcome"`
		Values  map[string]any `json:"values"`
		Limits  map[string]any `json:"limits"`
	}
	var reading map[string]any
	if !known || json.Unmarshal(one.Verdict, &v) != nil || json.Unmarshal(one.Reading, &reading) != nil ||
		v.Outcome == string(check.Invalid) {
		return nil
	}
	add := func(name, label, unit string, value any, low, high any) {
		n, ok := number(value)
		if !ok {
			return
		}
		s := Series{ID: strings.Join([]string{one.Item, one.Check, fmt.Sprint(one.Engine), name}, " "), Check: d.Name,
			Title: d.Title, Label: label, Unit: unit, Engine: one.Engine, Item: one.Item,
			Points: []Point{{Hours: one.Hours, Value: n, Day: one.Day, Lesson: one.Lesson}}, Restarts: []Restart{}}
		if l, ok := number(low); ok {
			s.Low = &l
		}
		if h, ok := number(high); ok {
			s.High = &h
		}
		if s.Low != nil || s.High != nil {
			out = append(out, s)
		}
	}
	if d.NamedReading != nil {
		for _, g := range t.Gauges {
			band, _ := v.Limits[g.ID].(map[string]any)
			if value, there := reading[g.ID]; there {
				add(g.ID, g.Label, g.Unit, value, band["min"], band["max"])
			}
		}
		return out
	}
	for _, scale := range d.Scales {
		if !scale.Followed {
			continue
		}
		unit, low, high := scale.UnitOn(t), v.Limits[scale.Low], v.Limits[scale.High]
		list, field, nested := strings.Cut(scale.Of, ".")
		switch rows, _ := reading[list].([]any); {
		case nested:
			for i, row := range rows {
				label := scale.Label
				if len(rows) > 1 {
					label = fmt.Sprintf("%s %d", label, i+1)
				}
				if one, ok := row.(map[string]any); ok {
					add(fmt.Sprint(scale.Of, " ", i), label, unit, one[field], low, high)
				}
			}
		case scale.Computed:
			add(scale.Of, scale.Label, unit, v.Values[scale.Of], low, high)
		default:
			add(scale.Of, scale.Label, unit, reading[scale.Of], low, high)
		}
	}
	return out
}

func number(v any) (float64, bool) {
	f, ok := v.(float64)
	return f, ok && !math.IsInf(f, 0) && !math.IsNaN(f)
}

// project follows the series to the limit that it goes to, or is nearer to.
func (s *Series) project(readings []Reading) {
	for end := len(readings); end > 0; {
		from := sinceReset(readings[:end])
		for i, average := range averages(readings[from:end]) {
			s.Points[from+i].Average = rounded(average)
		}
		end = from
	}
	above, below := Trend{}, Trend{}
	if s.High != nil {
		above = TrendOf(readings, *s.High, Above)
	}
	if s.Low != nil {
		below = TrendOf(readings, *s.Low, Below)
	}
	sooner := func(a, b Trend) bool {
		switch {
		case (a.Finding != nil) != (b.Finding != nil):
			return a.Finding != nil
		case a.HoursToLimit != nil && b.HoursToLimit != nil:
			return *a.HoursToLimit < *b.HoursToLimit
		}
		return a.HoursToLimit != nil
	}
	s.Trend, s.Toward = above, "above"
	if s.High == nil || s.Low != nil && sooner(below, above) {
		s.Trend, s.Toward = below, "below"
	}
	s.State, s.Words = check.Within, "steady"
	t := s.Trend
	tries := "tries"
	if t.N == 1 {
		tries = "try"
	}
	s.Long = fmt.Sprintf("First tries only, %d %s", t.N, tries)
	if sinceReset(readings) > 0 {
		last := s.Restarts[len(s.Restarts)-1]
		s.Long += " since " + last.Words
	}
	s.Long += "."
	switch {
	case t.N < chartFrom:
		s.Words = "too few to tell"
		s.Long += fmt.Sprintf(" A trend is told from %d on.", chartFrom)
	case t.Finding != nil && t.Finding.Code == "at-limit":
		s.State, s.Words = check.Out, "beyond its limit"
		s.Long += " " + t.Finding.Message
	case t.Finding != nil:
		s.State, s.Words = check.Attend, fmt.Sprintf("%s, %.0f h",
			map[bool]string{true: "rising", false: "falling"}[s.Toward == "above"], *t.HoursToLimit)
		s.Long += " " + t.within()
	case t.SlopePerHour != nil && t.Low != nil && t.High != nil && (*t.Low > 0 || *t.High < 0):
		s.Words = map[bool]string{true: "rising slowly", false: "falling slowly"}[*t.SlopePerHour > 0]
	}
}

// within says when the limit is met, with its interval.
func (t Trend) within() string {
	said := fmt.Sprintf("It meets its limit in some %.0f h at this rate", *t.HoursToLimit)
	switch {
	case t.HoursLow != nil && t.HoursHigh != nil:
		said += fmt.Sprintf(" (%.0f to %.0f)", *t.HoursLow, *t.HoursHigh)
	case t.HoursLow != nil:
		said += fmt.Sprintf(" (%.0f at the soonest)", *t.HoursLow)
	}
	return said + "."
}
