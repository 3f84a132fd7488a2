package aircraft

import (
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/form"
)

// Place is a spot in or around the cockpit where hands or eyes go, on a
// schematic of 100 by 100: X from the left, Y from the front.
type Place struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	X     int    `json:"x"`
	Y     int    `json:"y"`
}

// Duration is a time that is waited or counted, in seconds: at least
// MinSeconds, at most MaxSeconds, where they are given.
type Duration struct {
	ID         string  `json:"id"`
	Label      string  `json:"label"`
	MinSeconds float64 `json:"minSeconds,omitempty"`
	MaxSeconds float64 `json:"maxSeconds,omitempty"`
	// Act says that it counts what the person does: over its limit it is the
	// person's error, where another duration is the engine's.
	Act bool `json:"act,omitempty"`
}

// Stands is how so many seconds stand to the duration: attend while they are too
// few, within once they are enough, out when they are too many; empty where it
// does not say.
func (d Duration) Stands(seconds float64) string {
	switch {
	case d.MaxSeconds > 0 && seconds > d.MaxSeconds:
		return "out"
	case d.MinSeconds > 0 && seconds < d.MinSeconds:
		return "attend"
	case d.MinSeconds > 0:
		return "within"
	}
	return ""
}

// Words is what the duration asks for.
func (d Duration) Words() string {
	var said []string
	if d.MinSeconds > 0 {
		said = append(said, fmt.Sprintf("at least %g s", d.MinSeconds))
	}
	if d.MaxSeconds > 0 {
		said = append(said, fmt.Sprintf("at most %g s", d.MaxSeconds))
	}
	return strings.Join(said, ", ")
}

// Minimum is a reading that must be reached before a phase of the work.
type Minimum struct {
	Gauge  string  `json:"gauge"`
	Before string  `json:"before"`
	Value  float64 `json:"value"`
}

// Winds are the largest crosswind and tailwind components that the type's
// maker has shown or allows, in knots.
type Winds struct {
	CrosswindKt int `json:"crosswindKt"`
	TailwindKt  int `json:"tailwindKt"`
}

// Fuel is what is known of the fuel: tanks with their usable litres, what is
// burnt an hour, and how far two tanks may lie apart.
type Fuel struct {
	Tanks         []Tank `json:"tanks"`
	BurnLPerHour  int    `json:"burnLPerHour"`
	ImbalanceMaxL int    `json:"imbalanceMaxL,omitempty"`
	// OneTank says that the engine is fed from one of two tanks at a time, left or
	// right, and that the pilot chooses which.
	OneTank bool `json:"oneTank,omitempty"`
	// LeastStartL and LeastTakeOffL are what a tank must hold to be started and
	// taken off on, ClimbMinutes how long the climb lasts in which no tank is
	// changed; 0 where they are not known.
	LeastStartL   int `json:"leastStartL,omitempty"`
	LeastTakeOffL int `json:"leastTakeOffL,omitempty"`
	ClimbMinutes  int `json:"climbMinutes,omitempty"`
}

// FuelMethods are the ways a school takes the tanks where one is chosen: start
// and take off on the fuller; or start and taxi on the lower, change before the
// run-up and take off on the fuller, so that both are proven.
var FuelMethods = []string{"fuller-first", "prove-both"}

// Tank is one fuel tank.
type Tank struct {
	ID      string `json:"id"`
	Label   string `json:"label"`
	UsableL int    `json:"usableL"`
}

// Prime is the table of how the engine is primed: the first row whose engine
// state and temperature fit is the plan.
type Prime struct {
	// PreheatBelowC is the temperature below which the engine is warmed first.
	PreheatBelowC float64 `json:"preheatBelowC"`
	// HotWithinMinutes and WarmWithinMinutes tell how long after it ran an
	// engine counts as hot and as warm.
	HotWithinMinutes  int        `json:"hotWithinMinutes"`
	WarmWithinMinutes int        `json:"warmWithinMinutes"`
	Rows              []PrimeRow `json:"rows"`
	Flooded           PrimeRow   `json:"flooded"`
}

// PrimeRow is one way of preparing a start. BelowC bounds the temperatures it
// is for; without it the row is for all that are left.
type PrimeRow struct {
	Engine   string   `json:"engine,omitempty"`
	BelowC   *float64 `json:"belowC,omitempty"`
	Method   string   `json:"method"`
	Amount   float64  `json:"amount"`
	Unit     string   `json:"unit"`
	Throttle string   `json:"throttle"`
	// Mixture is empty where the engine has no lever for it.
	Mixture string `json:"mixture,omitempty"`
	Note    string `json:"note,omitempty"`
}

// Table is a quantity over pressure altitude (rows) and outside air temperature
// (columns), read between its nodes in straight lines. Beyond an edge the value
// of the edge is used where Hold names that edge, since it is then on the safe
// side; elsewhere there is no value.
type Table struct {
	Label       string      `json:"label"`
	Unit        string      `json:"unit"`
	AltitudesFt []int       `json:"altitudesFt"`
	OATC        []int       `json:"oatC"`
	Values      [][]float64 `json:"values"`
	Hold        []string    `json:"hold,omitempty"`
}

// Edges are the edges of a table that can be held.
var Edges = []string{"low-altitude", "high-altitude", "cold", "hot"}

// planProblems lists the mistakes in what a flight is planned with; seen knows
// the gauges by "gauge " and their id.
func (t Type) planProblems(seen map[string]bool) []form.Problem {
	var faults []form.Problem
	add := func(path, format string, args ...any) {
		faults = append(faults, form.Problem{Field: path, Reason: fmt.Sprintf(format, args...)})
	}
	if t.Engines > 1 && t.Engines <= 4 {
		if len(t.EngineNames) != t.Engines {
			add("$.engineNames", "must name each of the %d engines", t.Engines)
		}
		order := slices.Sorted(slices.Values(t.StartOrder))
		for n := 1; n <= t.Engines; n++ {
			if len(order) != t.Engines || order[n-1] != n {
				add("$.startOrder", "must name each of the %d engines once", t.Engines)
				break
			}
		}
	}
	for i, p := range t.Cockpit {
		at := fmt.Sprintf("$.cockpit[%d]", i)
		if p.ID == "" || seen["place "+p.ID] {
			add(at+".id", "%q is empty or used twice", p.ID)
		}
		seen["place "+p.ID] = true
		if p.X < 0 || p.X > 100 || p.Y < 0 || p.Y > 100 {
			add(at, "must lie within 0 to 100 each way")
		}
	}
	for i, d := range t.Durations {
		at := fmt.Sprintf("$.durations[%d]", i)
		if d.ID == "" || seen["duration "+d.ID] {
			add(at+".id", "%q is empty or used twice", d.ID)
		}
		seen["duration "+d.ID] = true
		if d.MinSeconds < 0 || d.MaxSeconds < 0 || d.MaxSeconds > 0 && d.MinSeconds > d.MaxSeconds {
			add(at, "must run from a time to a later one")
		}
	}
	for i, m := range t.Minimums {
		if !seen["gauge "+m.Gauge] {
			add(fmt.Sprintf("$.minimums[%d].gauge", i), "%q is not among the type's gauges", m.Gauge)
		}
		if m.Before == "" ||
			slices.ContainsFunc(t.Minimums[:i],
				func(o Minimum) bool { return o.Gauge == m.Gauge && o.Before == m.Before }) {
			add(fmt.Sprintf("$.minimums[%d].before", i), "%q is empty, or the gauge is waited for twice before it",
				m.Before)
		}
	}
	if t.Winds != nil && t.Winds.CrosswindKt < 1 {
		add("$.winds.crosswindKt", "must be knots, at least 1")
	}
	if t.Winds != nil && t.Winds.TailwindKt < 0 {
		add("$.winds.tailwindKt", "must be knots, at least 0")
	}
	if t.Fuel != nil {
		faults = append(faults, t.Fuel.problems()...)
	}
	if t.Prime != nil {
		for i, r := range t.Prime.Rows {
			if !slices.Contains([]string{"cold", "warm", "hot"}, r.Engine) {
				add(fmt.Sprintf("$.prime.rows[%d].engine", i), "%q is none of cold, warm, hot", r.Engine)
			}
		}
		if t.Prime.HotWithinMinutes < 1 || t.Prime.WarmWithinMinutes <= t.Prime.HotWithinMinutes {
			add("$.prime", "needs hotWithinMinutes of at least 1, and warmWithinMinutes above it")
		}
		if t.Prime.Flooded.Method == "" {
			add("$.prime.flooded", "is missing")
		}
	}
	if t.Power != nil {
		faults = append(faults, t.Power.faults("$.power")...)
	}
	return faults
}

func (f Fuel) problems() []form.Problem {
	var faults []form.Problem
	add := func(path, format string, args ...any) {
		faults = append(faults, form.Problem{Field: "$.fuel." + path, Reason: fmt.Sprintf(format, args...)})
	}
	if len(f.Tanks) == 0 {
		add("tanks", "needs a tank")
	}
	seen := map[string]bool{}
	for i, tank := range f.Tanks {
		if tank.ID == "" || seen[tank.ID] {
			add(fmt.Sprintf("tanks[%d].id", i), "%q is empty or used twice", tank.ID)
		}
		seen[tank.ID] = true
		if tank.UsableL < 1 {
			add("tanks."+tank.ID, "the tank must hold at least 1 litre")
		}
	}
	if f.BurnLPerHour < 1 {
		add("burnLPerHour", "must be at least 1 litre an hour")
	}
	for field, n := range map[string]int{
		"imbalanceMaxL": f.ImbalanceMaxL, "leastStartL": f.LeastStartL, "leastTakeOffL": f.LeastTakeOffL,
		"climbMinutes": f.ClimbMinutes,
	} {
		if n < 0 {
			add(field, "must not be below 0")
		}
	}
	if f.OneTank && (len(f.Tanks) != 2 || !seen["left"] || !seen["right"]) {
		add("oneTank", "where one tank at a time is chosen there are two, left and right")
	}
	return faults
}

// fallsBeyond reports whether the limit falls towards an edge of a table that is
// whole, so that beyond it the limit may be lower still.
func (t Table) fallsBeyond(edge string) bool {
	rows, columns := len(t.Values), len(t.OATC)
	for i := range rows {
		switch {
		case edge == "cold" && t.Values[i][0] < t.Values[i][1],
			edge == "hot" && t.Values[i][columns-1] < t.Values[i][columns-2]:
			return true
		}
	}
	for j := range columns {
		switch {
		case edge == "low-altitude" && t.Values[0][j] < t.Values[1][j],
			edge == "high-altitude" && t.Values[rows-1][j] < t.Values[rows-2][j]:
			return true
		}
	}
	return false
}

func (t Table) faults(at string) []form.Problem {
	var faults []form.Problem
	add := func(path, format string, args ...any) {
		faults = append(faults, form.Problem{Field: at + path, Reason: fmt.Sprintf(format, args...)})
	}
	rising := func(nodes []int) bool {
		return len(nodes) > 1 && slices.IsSorted(nodes) && len(slices.Compact(slices.Clone(nodes))) == len(nodes)
	}
	if !rising(t.AltitudesFt) {
		add(".altitudesFt", "must hold at least two altitudes, rising")
	}
	if !rising(t.OATC) {
		add(".oatC", "must hold at least two temperatures, rising")
	}
	if len(t.Values) != len(t.AltitudesFt) {
		add(".values", "must have one row for each altitude")
	}
	for i, row := range t.Values {
		if len(row) != len(t.OATC) {
			add(fmt.Sprintf(".values[%d]", i), "must have one value for each temperature")
		}
	}
	for i, edge := range t.Hold {
		if !slices.Contains(Edges, edge) {
			add(fmt.Sprintf(".hold[%d]", i), "%q is none of %s", edge, strings.Join(Edges, ", "))
		} else if len(faults) == 0 && t.fallsBeyond(edge) {
			add(fmt.Sprintf(".hold[%d]", i),
				"the limit falls towards the %s edge: to hold its value beyond it is not on the safe side", edge)
		}
	}
	return faults
}
