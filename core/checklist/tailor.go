package checklist

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// Day is what a list is tailored to. What is not known is left out: items that
// depend on it stay, and say so.
type Day struct {
	OATC        *float64 `json:"oatC,omitempty"`
	DewPointC   *float64 `json:"dewPointC,omitempty"`
	WindKt      *float64 `json:"windKt,omitempty"`
	GustKt      *float64 `json:"gustKt,omitempty"`
	ElevationFt *float64 `json:"elevationFt,omitempty"`
	QNHHPa      *float64 `json:"qnhHPa,omitempty"`
	Night       *bool    `json:"night,omitempty"`
	FirstFlight *bool    `json:"firstFlight,omitempty"`
	Rules       string   `json:"rules,omitempty"`
	EngineState string   `json:"engineState,omitempty"`
	// FuelMethod is how the school takes the tanks; see aircraft.FuelMethods.
	FuelMethod string `json:"fuelMethod,omitempty"`
	// Skips are the checks that the school does not do, Breakers what it does with
	// one that has opened: "once" sets it once, "never" leaves it.
	Skips    []string `json:"skips,omitempty"`
	Breakers string   `json:"breakers,omitempty"`
	// Exercises are the ids of what is planned to be flown.
	Exercises []string `json:"exercises,omitempty"`
}

// Aircraft is what of this very aircraft tailoring asks for: the optional
// equipment it has beside its type's own.
type Aircraft struct {
	Equipment []string `json:"equipment,omitempty"`
	// StartOrder are the engines in the order they are started; empty is the
	// type's own order.
	StartOrder []int `json:"startOrder,omitempty"`
}

// Flown is a list as flown: tailored, with the reason of everything in it that
// is not as printed.
type Flown struct {
	List       List       `json:"list"`
	StartOrder []int      `json:"startOrder,omitempty"`
	Layers     []LayerRef `json:"layers"`
	Reasons    []Reason   `json:"reasons"`
}

// LayerRef names a layer that was laid over the list.
type LayerRef struct {
	ID      string `json:"id"`
	Version int    `json:"version"`
	Title   string `json:"title"`
	Rank    string `json:"rank"`
}

// The kinds of reasons.
const (
	Added     = "added"
	Changed   = "changed"
	Dropped   = "dropped"
	Included  = "included"  // its condition holds today
	Overruled = "overruled" // a layer of higher rank stands
	Refused   = "refused"   // the change cannot be made
)

// Reason says of one item how it differs from the printed list, and why. Layer
// is empty where the list itself says so. Because is the state of the day that
// decided.
type Reason struct {
	Item      string   `json:"item"`
	Challenge string   `json:"challenge"`
	Kind      string   `json:"kind"`
	Layer     string   `json:"layer,omitempty"`
	Title     string   `json:"title,omitempty"` // of the layer
	Why       string   `json:"why,omitempty"`
	Because   string   `json:"because,omitempty"`
	Fields    []string `json:"fields,omitempty"`
}

// Tailoring is everything that a list as flown is made of.
type Tailoring struct {
	List     List          `json:"list"`
	Layers   []Layer       `json:"layers"`
	Type     aircraft.Type `json:"type"`
	Aircraft Aircraft      `json:"aircraft"`
	Day      Day           `json:"day,omitzero"`
}

// Flown makes the list as flown.
func (t Tailoring) Flown() (Flown, error) { return Tailor(t.List, t.Layers, t.Type, t.Aircraft, t.Day) }

// Tailor makes the list as flown: the layers over the list, for this aircraft,
// on this day. Layers of other types are left out. The error names what of the
// list or the layers cannot be used.
func Tailor(list List, layers []Layer, t aircraft.Type, of Aircraft, day Day) (Flown, error) {
	if list.AircraftType != t.ID {
		return Flown{}, fmt.Errorf("the list %s is for %s, not for %s", list.ID, list.AircraftType, t.ID)
	}
	if faults := list.Problems(); len(faults) > 0 {
		return Flown{}, fmt.Errorf("the list %s has mistakes: %w", list.ID, faults[0])
	}
	if err := day.sound(); err != nil {
		return Flown{}, err
	}
	for i, e := range of.Equipment {
		if !slices.ContainsFunc(t.Equipment, func(known aircraft.Equipment) bool { return known.ID == e }) {
			return Flown{}, fmt.Errorf("aircraft.equipment[%d] %q is nothing that a %s can have; known: %s", i, e,
				t.Name, equipmentIDs(t))
		}
	}
	order, err := startOrder(t, of.StartOrder)
	if err != nil {
		return Flown{}, err
	}
	flown := Flown{List: list.clone(), StartOrder: order, Layers: []LayerRef{}, Reasons: []Reason{}}
	w := &tailoring{
		flown: &flown, facts: day.facts(t, of), claimed: map[string]map[string]bool{}, dropped: map[string]bool{},
	}
	layers = slices.DeleteFunc(slices.Clone(layers), func(l Layer) bool { return l.AircraftType != t.ID })
	// The highest rank comes first, of one rank the newest.
	slices.SortStableFunc(layers, func(a, b Layer) int {
		return cmp.Or(cmp.Compare(b.rank(), a.rank()), strings.Compare(b.Date, a.Date), strings.Compare(a.ID, b.ID))
	})
	for _, l := range layers {
		if faults := l.Problems(); len(faults) > 0 {
			return Flown{}, fmt.Errorf("the layer %s has mistakes: %w", l.ID, faults[0])
		}
		flown.Layers = append(flown.Layers, LayerRef{l.ID, l.Version, l.Title, l.Rank})
		for _, c := range l.Changes {
			w.lay(l, c)
		}
	}
	w.decided(day)
	w.conditions()
	w.engines(t, order)
	if faults := flown.List.Problems(); len(faults) > 0 {
		return Flown{}, fmt.Errorf("the list as flown has mistakes: %w", faults[0])
	}
	return flown, nil
}

func equipmentIDs(t aircraft.Type) string {
	ids := make([]string, len(t.Equipment))
	for i, e := range t.Equipment {
		ids[i] = e.ID
	}
	return strings.Join(ids, ", ")
}

// sound reports the conditions of a day that cannot be true, and what is taken instead.
func (d Day) sound() error {
	for _, c := range []struct {
		field, value string
		known        []string
	}{
		{"rules", d.Rules, []string{"VFR", "IFR"}}, {"engineState", d.EngineState, []string{"cold", "warm", "hot"}},
		{"fuelMethod", d.FuelMethod, aircraft.FuelMethods}, {"breakers", d.Breakers, []string{"once", "never"}},
	} {
		if c.value != "" && !slices.Contains(c.known, c.value) {
			return fmt.Errorf("day.%s %q is none of %s", c.field, c.value, strings.Join(c.known, ", "))
		}
	}
	for i, e := range d.Exercises {
		if !slices.Contains(ExerciseIDs(), e) {
			return fmt.Errorf("day.exercises[%d] %q is no exercise; known: %s", i, e, strings.Join(ExerciseIDs(), ", "))
		}
	}
	switch {
	case d.GustKt != nil && d.WindKt != nil && *d.GustKt < *d.WindKt:
		return fmt.Errorf("day.gustKt %g is below windKt %g: gusts are above the wind, or left out", *d.GustKt,
			*d.WindKt)
	case d.DewPointC != nil && d.OATC != nil && *d.DewPointC > *d.OATC:
		return fmt.Errorf("day.dewPointC %g is above oatC %g: the dew point is at most the air's temperature",
			*d.DewPointC, *d.OATC)
	}
	return nil
}

// breakerWords are what the school does with a breaker that has opened.
var breakerWords = map[string]string{
	"once": "A breaker that has opened has a reason: the school sets it once, after it has cooled, and only when " +
		"it is needed.",
	"never": "A breaker that has opened has a reason: the school leaves it open and writes it up.",
}

// decided brings in what the school's policy decides: checks that it does not do
// are dropped, and the breakers say what is done with them.
func (w *tailoring) decided(day Day) {
	for p := range w.flown.List.Phases {
		for i, item := range w.flown.List.Phases[p].Items {
			if item.Check != "" && slices.Contains(day.Skips, item.Check) && !w.dropped[item.ID] {
				w.dropped[item.ID] = true
				w.addReason(Reason{
					Item: item.ID, Challenge: item.Challenge, Kind: Dropped,
					Because: "the school does not do this check",
				})
			}
			if words := breakerWords[day.Breakers]; words != "" && item.ID == "breakers" {
				w.flown.List.Phases[p].Items[i].Caution = words
			}
		}
	}
}

func startOrder(t aircraft.Type, asked []int) ([]int, error) {
	if t.Engines < 2 {
		return nil, nil
	}
	order := asked
	if len(order) == 0 {
		order = t.StartOrder
	}
	for n := 1; n <= t.Engines; n++ {
		if len(order) != t.Engines || !slices.Contains(order, n) {
			return nil, errors.New("startOrder must name each engine once")
		}
	}
	return slices.Clone(order), nil
}

func (l List) clone() List {
	l.Phases = slices.Clone(l.Phases)
	for p := range l.Phases {
		l.Phases[p].Items = slices.Clone(l.Phases[p].Items)
	}
	return l
}

// facts brings the day to what conditions ask for.
func (d Day) facts(t aircraft.Type, of Aircraft) facts {
	f := facts{
		numbers: map[string]quantity.Value{}, words: map[string]string{}, flags: map[string]bool{},
		named: map[string][]string{"planned": d.Exercises},
	}
	number := func(name string, v *float64) {
		if v != nil {
			f.numbers[name] = quantity.Scaled(int64(roundHalfAway(*v*10)), 1)
		}
	}
	number("oat", d.OATC)
	number("dewPoint", d.DewPointC)
	number("wind", d.WindKt)
	number("gust", d.GustKt)
	if d.GustKt == nil {
		number("gust", d.WindKt)
	}
	number("elevation", d.ElevationFt)
	if d.OATC != nil && d.DewPointC != nil {
		f.numbers["spread"] = f.numbers["oat"].Sub(f.numbers["dewPoint"])
	}
	if d.OATC != nil && d.ElevationFt != nil && d.QNHHPa != nil {
		number("qnh", d.QNHHPa)
		_, f.numbers["densityAltitude"] = weather.Altitudes(f.numbers["elevation"], f.numbers["qnh"], f.numbers["oat"])
	}
	for name, word := range map[string]string{"rules": d.Rules, "engine": d.EngineState, "fuelMethod": d.FuelMethod} {
		if word != "" {
			f.words[name] = word
		}
	}
	for name, flag := range map[string]*bool{"night": d.Night, "firstFlight": d.FirstFlight} {
		if flag != nil {
			f.flags[name] = *flag
		}
	}
	f.named["fitted"] = slices.Clone(of.Equipment)
	for _, e := range t.Equipment {
		if !e.Optional {
			f.named["fitted"] = append(f.named["fitted"], e.ID)
		}
	}
	return f
}

func roundHalfAway(v float64) float64 {
	if v < 0 {
		return -roundHalfAway(-v)
	}
	return float64(int64(v + 0.5))
}

// tailoring is the work on one list. Layers come from the highest rank down,
// so what is claimed already stands.
type tailoring struct {
	flown *Flown
	facts facts
	// claimed holds, for each item, the fields that a layer has set; "" claims
	// whether the item is there at all.
	claimed map[string]map[string]bool
	// dropped are items that are not in the list as flown.
	dropped map[string]bool
}

func (w *tailoring) find(id string) (phase, at int) {
	for p, phase := range w.flown.List.Phases {
		if i := slices.IndexFunc(phase.Items, func(item Item) bool { return item.ID == id }); i >= 0 {
			return p, i
		}
	}
	return -1, -1
}

func (w *tailoring) addReason(r Reason) { w.flown.Reasons = append(w.flown.Reasons, r) }

// lay makes one change of a layer, or says why it is not made.
func (w *tailoring) lay(l Layer, c Change) {
	condition, _ := ParseCondition(c.When) // Faults has parsed it
	holds, because := condition.eval(w.facts)
	// What is not known adds and changes, but drops nothing.
	if holds == no || holds == unknown && c.Op == OpDrop {
		return
	}
	id := c.target()
	r := Reason{Item: id, Layer: l.ID, Title: l.Title, Why: c.Why, Because: because}
	p, i := w.find(id)
	if i >= 0 {
		r.Challenge = w.flown.List.Phases[p].Items[i].Challenge
	}
	claims := w.claimed[id]
	if claims == nil {
		claims = map[string]bool{}
		w.claimed[id] = claims
	}
	switch c.Op {
	case OpAdd:
		r.Challenge = c.New.Challenge
		w.add(r, c, claims)
	case OpDrop:
		switch {
		case w.dropped[id]:
			r.Kind, r.Fields = Overruled, nil
		case i < 0:
			r.Kind = Refused
			r.Because = "the list has no such item"
		case len(claims) > 0:
			r.Kind = Overruled
		case l.Rank == "instructor" && w.flown.List.Phases[p].Items[i].Critical:
			r.Kind = Refused
			r.Because = "an instructor's technique cannot drop a critical item"
		default:
			r.Kind = Dropped
			claims[""] = true
			w.dropped[id] = true
		}
		w.addReason(r)
	case OpChange:
		w.change(r, l, c, claims, p, i)
	}
}

func (w *tailoring) add(r Reason, c Change, claims map[string]bool) {
	list := &w.flown.List
	p := slices.IndexFunc(list.Phases, func(p Phase) bool { return p.ID == c.Phase })
	at := 0
	if c.Follows != "" && p >= 0 {
		at = slices.IndexFunc(list.Phases[p].Items, func(i Item) bool { return i.ID == c.Follows }) + 1
	}
	switch _, known := w.find(c.New.ID); {
	case known >= 0:
		r.Kind = Overruled
		if !claims[""] {
			r.Kind, r.Because = Refused, "the list already has an item of that id"
		}
	case p < 0:
		r.Kind, r.Because = Refused, fmt.Sprintf("the list has no phase %s", c.Phase)
	case c.Follows != "" && at == 0:
		r.Kind, r.Because = Refused, fmt.Sprintf("the phase has no item %s to come behind", c.Follows)
	default:
		r.Kind = Added
		before := list.Phases[p].Items
		list.Phases[p].Items = slices.Insert(slices.Clone(before), at, *c.New)
		if faults := list.Problems(); len(faults) > 0 {
			list.Phases[p].Items = before
			r.Kind, r.Because = Refused, faults[0].Reason
		} else {
			claims[""] = true
		}
	}
	w.addReason(r)
}

func (w *tailoring) change(r Reason, l Layer, c Change, claims map[string]bool, p, i int) {
	switch {
	case i < 0:
		r.Kind, r.Because = Refused, "the list has no such item"
		w.addReason(r)
		return
	case w.dropped[c.Item]:
		r.Kind = Overruled
		w.addReason(r)
		return
	}
	set, overruled := map[string]any{}, []string{}
	for field, value := range c.Set {
		if claims[field] {
			overruled = append(overruled, field)
			continue
		}
		set[field] = value
		r.Fields = append(r.Fields, field)
	}
	slices.Sort(r.Fields)
	slices.Sort(overruled)
	if len(overruled) > 0 {
		lost := r
		lost.Kind, lost.Fields = Overruled, overruled
		w.addReason(lost)
	}
	if len(set) == 0 {
		return
	}
	items := w.flown.List.Phases[p].Items
	before := items[i]
	after, err := before.with(set)
	items[i] = after
	r.Kind = Changed
	var faults []form.Problem
	if err == nil {
		faults = w.flown.List.Problems()
	}
	switch {
	case err != nil:
		r.Kind, r.Because = Refused, err.Error()
	case len(faults) > 0:
		r.Kind, r.Because = Refused, faults[0].Reason
	case l.Rank == "instructor" && before.Critical && !after.Critical:
		r.Kind, r.Because = Refused, "an instructor's technique cannot make a critical item less"
	}
	if r.Kind == Refused {
		items[i] = before
	} else {
		for field := range set {
			claims[field] = true
		}
	}
	w.addReason(r)
}

// conditions drops what does not apply today, and notes what does because of
// today.
func (w *tailoring) conditions() {
	list := &w.flown.List
	for _, phase := range list.Phases {
		for _, item := range phase.Items {
			if item.When == "" || w.dropped[item.ID] {
				continue
			}
			condition, _ := ParseCondition(item.When) // Faults has parsed it
			holds, because := condition.eval(w.facts)
			r := Reason{Item: item.ID, Challenge: item.Challenge, Kind: Included, Because: because}
			if holds == no {
				r.Kind = Dropped
				w.dropped[item.ID] = true
			}
			w.addReason(r)
		}
	}
	for p := range list.Phases {
		kept := list.Phases[p].Items[:0:0]
		for _, item := range list.Phases[p].Items {
			if !w.dropped[item.ID] {
				item.When = ""
				item.After = slices.DeleteFunc(slices.Clone(item.After), func(id string) bool { return w.dropped[id] })
				if w.dropped[item.Closes] {
					item.Closes = ""
				}
				kept = append(kept, item)
			}
		}
		list.Phases[p].Items = kept
	}
	list.Phases = slices.DeleteFunc(list.Phases, func(p Phase) bool { return len(p.Items) == 0 })
}

// engines makes one item for each engine where the list says per engine. Of a
// type with one engine it only takes that word away.
func (w *tailoring) engines(t aircraft.Type, order []int) {
	list := &w.flown.List
	per := map[string]bool{}
	for _, place := range list.Places() {
		per[place.Item.ID] = place.Item.Per != "" && t.Engines > 1
	}
	for p := range list.Phases {
		items := list.Phases[p].Items
		var out []Item
		for i := 0; i < len(items); {
			run := i + 1
			if items[i].Per == "block" {
				for run < len(items) && items[run].Per == "block" {
					run++
				}
			}
			switch {
			case t.Engines < 2:
				one := items[i].forEngine(0, "", per, order)
				one.Per = ""
				if one.Only != "second" {
					one.Only = ""
					out = append(out, one)
				}
				run = i + 1
			case items[i].Per == "":
				out = append(out, items[i].forEngine(0, "", per, order))
			case items[i].Per == "each":
				for n := 1; n <= t.Engines; n++ {
					out = append(out, items[i].forEngine(n, t.EngineName(n), per, order))
				}
			default:
				out = append(out, block(items[i:run], t, per, order)...)
			}
			i = run
		}
		list.Phases[p].Items = out
	}
	// An item for the first or the second engine only has no twin to wait for.
	there := map[string]bool{}
	for p := range list.Phases {
		for i, item := range list.Phases[p].Items {
			there[item.ID] = true
			list.Phases[p].Items[i].After = slices.DeleteFunc(item.After, func(id string) bool { return !there[id] })
		}
	}
}

// block works through a run of items for the first engine, then for the next.
func block(items []Item, t aircraft.Type, per map[string]bool, order []int) []Item {
	var out []Item
	for nth, engine := range order {
		for _, item := range items {
			if item.Only == "first" && nth > 0 || item.Only == "second" && nth == 0 {
				continue
			}
			out = append(out, item.forEngine(engine, t.EngineName(engine), per, order))
		}
	}
	return out
}

func engineID(id string, engine int) string { return fmt.Sprintf("%s-%d", id, engine) }

// forEngine is the item for one engine, 0 for all: its name says which, and
// what must come before it is that of the same engine.
func (i Item) forEngine(engine int, name string, per map[string]bool, order []int) Item {
	after := []string{}
	for _, id := range i.After {
		switch {
		case !per[id]:
			after = append(after, id)
		case engine > 0:
			after = append(after, engineID(id, engine))
		default:
			for _, n := range order {
				after = append(after, engineID(id, n))
			}
		}
	}
	i.After = after
	if len(after) == 0 {
		i.After = nil
	}
	if i.Closes != "" && per[i.Closes] && engine > 0 {
		i.Closes = engineID(i.Closes, engine)
	}
	if engine > 0 {
		i.Of, i.Engine = i.ID, engine
		i.ID = engineID(i.ID, engine)
		i.Challenge += ", " + name
	}
	return i
}
