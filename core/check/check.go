// Package check judges measured checks: a reading is held to limits under
// conditions and gives a verdict. A check is one file with its fields and its
// rules, and one line in the table of All.
//
// Every number is brought to its field's resolution on entry, a reading equal
// to a limit is within it, and nothing here knows the time or the place.
package check

import (
	"bytes"
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"
	"sync"

	"jetprimer/core/aircraft"
)

// RulesVersion names the rules of this package and of package lesson. It
// changes whenever a verdict or a level could.
const RulesVersion = "2026.12"

// Definition declares a check: what is read, what it is held to, what is
// computed from it.
type Definition struct {
	Name   string  `json:"name"`
	Title  string  `json:"title"`
	Rule   string  `json:"rule"`
	Fields []Field `json:"fields"`
	Limits []Field `json:"limits"`
	// NamedReading and NamedLimits hold for checks of whatever gauges a type
	// has: the objects are keyed by the gauges' names.
	NamedReading *Field `json:"namedReading,omitempty"`
	NamedLimits  *Field `json:"namedLimits,omitempty"`
	// Scales are what the readings and values are drawn on.
	Scales []Scale `json:"scales"`

	// ordered lists pairs of limits of which the first may not be above the
	// second.
	ordered [][2]string
	// needs lists the conditions without which the check cannot be judged.
	needs []string
	judge func(in input, out *sheet)
}

// input is one decoded request.
type input struct {
	reading, limits, conditions Record
	// speedUnit is rpm or percent, for messages.
	speedUnit string
	// lean says whether leaning on the ground is allowed.
	lean bool
}

// instrument reports whether instrument rules must be assumed: they are flown,
// or nothing says that they are not.
func (in input) instrument() bool { return in.conditions.Text("rules") != "VFR" }

// dark reports whether night must be assumed.
func (in input) dark() bool { return !in.conditions.Has("night") || in.conditions.Flag("night") }

// All lists the checks in the order a flight meets them.
func All() []Definition { return slices.Clone(declared()) }

// declared are the checks with their scales and timers, put together once.
var declared = sync.OnceValue(func() []Definition {
	all := []Definition{
		battery, pistonStart, dieselStart, turbineStart, clutch,
		altimeter, heading, database,
		magneto, lanes, controlUnit, carbHeat, mixturePeak, propeller, governorHold, feather,
		needleSplit, deceleration, hydraulics, lowRotorWarning,
		suction, charging, fuelPressure, gauges, enginesDiffer,
		idle, staticRPM, idleMixture, deadCut,
	}
	for i := range all {
		d := &all[i]
		d.Scales = append([]Scale{}, scales[d.Name]...)
		d.Fields = timed(d.Name, d.Fields)
	}
	return all
})

// Find returns the check of that name.
func Find(name string) (Definition, bool) {
	all := declared()
	i := slices.IndexFunc(all, func(d Definition) bool { return d.Name == name })
	if i < 0 {
		return Definition{}, false
	}
	return all[i], true
}

// Types finds an aircraft type by its id.
type Types func(id string) (aircraft.Type, bool)

// Request is one request as it came in: objects keep json.Number values.
type Request struct {
	AircraftType string
	Engine       int
	Attempt      int
	Reading      map[string]any
	Limits       map[string]any
	Conditions   map[string]any
}

// Run judges one JSON request and returns the verdict as one line of JSON. The
// error is an *InputError when the request cannot be used.
func Run(name string, request []byte, types Types) ([]byte, error) {
	parsed, err := ParseRequest(request)
	if err != nil {
		return nil, err
	}
	verdict, err := Judge(name, parsed, types)
	if err != nil {
		return nil, err
	}
	return json.Marshal(verdict)
}

// ParseRequest reads the common shape of every check's request.
func ParseRequest(request []byte) (Request, error) {
	object, err := decodeObject(request)
	if err != nil {
		return Request{}, err
	}
	r := Request{Engine: 1, Attempt: 1}
	for _, name := range slices.Sorted(maps.Keys(object)) {
		raw := object[name]
		switch name {
		case "aircraftType":
			text, ok := raw.(string)
			if !ok {
				return r, bad(name, "must be the id of an aircraft type")
			}
			r.AircraftType = text
		case "engine":
			r.Engine, err = wholeNumber(name, raw, 1, 4)
		case "attempt":
			r.Attempt, err = wholeNumber(name, raw, 1, 99)
		case "reading":
			r.Reading, err = objectField(name, raw)
		case "limits":
			r.Limits, err = objectField(name, raw)
		case "conditions":
			r.Conditions, err = objectField(name, raw)
		default:
			err = bad(name, "is not known here; allowed: aircraftType, engine, attempt, reading, limits, conditions")
		}
		if err != nil {
			return r, err
		}
	}
	if r.Reading == nil {
		return r, bad("reading", "is missing: an object with the check's readings")
	}
	return r, nil
}

func decodeObject(data []byte) (map[string]any, error) {
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	var object map[string]any
	if err := d.Decode(&object); err != nil {
		var wrongType *json.UnmarshalTypeError
		if errors.As(err, &wrongType) {
			return nil, bad("request", "must be one JSON object")
		}
		return nil, bad("request", "is not valid JSON: %v", err)
	}
	if object == nil {
		return nil, bad("request", "must be one JSON object, not null")
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return nil, bad("request", "must be one JSON object with nothing after it")
	}
	return object, nil
}

func wholeNumber(name string, raw any, low, high int) (int, error) {
	n, ok := raw.(json.Number)
	if ok {
		if i, err := strconv.Atoi(n.String()); err == nil && i >= low && i <= high {
			return i, nil
		}
	}
	return 0, bad(name, "must be a whole number from %d to %d", low, high)
}

func objectField(name string, raw any) (map[string]any, error) {
	object, ok := raw.(map[string]any)
	if !ok {
		return nil, bad(name, "must be an object")
	}
	return object, nil
}

// conditionFields are the circumstances a request may state.
var conditionFields = []Field{
	{Name: "engineKind", Kind: Choice, Choices: []string{"piston", "diesel", "turbine"}, Optional: true},
	{Name: "rules", Kind: Choice, Choices: []string{"VFR", "IFR"}, Optional: true},
	{Name: "night", Kind: Flag, Optional: true},
	{Name: "oatC", Kind: Number, Unit: "°C", Decimals: 1, Signed: true, Optional: true},
	{Name: "elevationFt", Kind: Number, Unit: "ft", Signed: true, Optional: true},
	{Name: "qnhHPa", Kind: Number, Unit: "hPa", Decimals: 1, Optional: true},
	{Name: "engineState", Kind: Choice, Choices: []string{"cold", "warm", "hot"}, Optional: true},
	{Name: "date", Kind: Day, Optional: true},
}

// ParseConditions decodes and checks conditions on their own, as a lesson
// states them when it opens.
func ParseConditions(object map[string]any) (Record, error) {
	return decoder{}.record("conditions", object, conditionFields)
}

// Judge gives the verdict on one request. The error is an *InputError that
// names the field that cannot be used.
func Judge(name string, r Request, types Types) (Verdict, error) {
	def, ok := Find(name)
	if !ok {
		return Verdict{}, bad("check", "%q is not known; known: %s", name, checkNames())
	}
	in := input{lean: true, speedUnit: "rpm"}
	var own map[string]any
	kind, tachometer := "", ""
	if r.AircraftType != "" {
		t, found := types(r.AircraftType)
		if !found {
			return Verdict{}, bad("aircraftType", "%q is not a known type", r.AircraftType)
		}
		if r.Engine > t.Engines {
			return Verdict{}, bad("engine", "must be 1 to %d for the %s", t.Engines, t.Name)
		}
		own, in.lean, kind, tachometer = t.Limits[name], t.LeanOnGround, t.EngineKind, cmp.Or(t.Tachometer, "rpm")
	}
	limits, err := merge(own, r.Limits)
	if err != nil {
		return Verdict{}, err
	}
	if unit := r.Reading["unit"]; (unit == "rpm" || unit == "percent") && own["base"] != nil && r.Limits["base"] == nil && unit != tachometer {
		return Verdict{}, bad("reading.unit", "must be %s: the tachometer of the type shows nothing else", tachometer)
	}
	d := decoder{speedUnit: "rpm"}
	if r.Reading["unit"] == "percent" {
		d = decoder{speedDecimals: 1, speedUnit: "percent"}
		in.speedUnit = "%"
	}
	if in.reading, err = d.reading(def, r.Reading); err != nil {
		return Verdict{}, err
	}
	var shown Object
	if in.limits, shown, err = d.limits(def, limits, in.reading); err != nil {
		return Verdict{}, err
	}
	if in.conditions, err = ParseConditions(r.Conditions); err != nil {
		return Verdict{}, err
	}
	if kind != "" && !in.conditions.Has("engineKind") {
		in.conditions.cells["engineKind"] = kind
	}
	for _, need := range def.needs {
		if !in.conditions.Has(need) {
			return Verdict{}, bad("conditions."+need, "is missing: this check cannot be judged without it")
		}
	}
	out := &sheet{}
	def.judge(in, out)
	return out.settle(name, r.Attempt, shown), nil
}

func checkNames() string {
	all := declared()
	names := make([]string, len(all))
	for i, d := range all {
		names[i] = d.Name
	}
	return strings.Join(names, ", ")
}

// CheckLimits reports whether limits, as a type's data has them, are complete
// and in order for the check of that name.
func CheckLimits(name string, limits map[string]any) error {
	def, ok := Find(name)
	if !ok {
		return bad("check", "%q is not known; known: %s", name, checkNames())
	}
	merged, err := merge(limits, nil)
	if err != nil {
		return err
	}
	_, _, err = decoder{speedUnit: "rpm"}.limits(def, merged, Record{})
	return err
}

// LimitFaults lists the mistakes in the limits of a type: checks that do not
// exist, limits that are missing or contradict each other.
func LimitFaults(t aircraft.Type) []aircraft.Fault {
	var faults []aircraft.Fault
	for name, limits := range t.Limits {
		if err := CheckLimits(name, limits); err != nil {
			faults = append(faults, aircraft.Fault{Path: "$.limits." + name, Reason: err.Error()})
		}
	}
	return aircraft.SortFaults(faults)
}

// merge lays the request's limits over the type's own, field by field, and one
// level deeper for gauges.
func merge(own, given map[string]any) (map[string]any, error) {
	merged := map[string]any{}
	if own != nil {
		data, err := json.Marshal(own)
		if err != nil {
			return nil, fmt.Errorf("reading the type's limits: %w", err)
		}
		if merged, err = decodeObject(data); err != nil {
			return nil, err
		}
	}
	for name, value := range given {
		below, isObject := merged[name].(map[string]any)
		over, overIsObject := value.(map[string]any)
		if !isObject || !overIsObject {
			merged[name] = value
			continue
		}
		for inner, v := range over {
			below[inner] = v
		}
	}
	return merged, nil
}

func (d decoder) reading(def Definition, object map[string]any) (Record, error) {
	if def.NamedReading == nil {
		return d.record("reading", object, def.Fields)
	}
	if len(object) == 0 {
		return Record{}, bad("reading", "must hold at least one gauge")
	}
	cell, err := d.named("reading", *def.NamedReading, object)
	if err != nil {
		return Record{}, err
	}
	return cell.(Record), nil
}

// limits decodes limits and the form in which a verdict shows them. Of named
// limits only those of the reading are held and shown; an empty reading takes
// them all.
func (d decoder) limits(def Definition, object map[string]any, reading Record) (Record, Object, error) {
	if def.NamedLimits == nil {
		r, err := d.record("limits", object, def.Limits)
		if err != nil {
			return Record{}, nil, err
		}
		return r, show(r, def.Limits), inOrder("limits", r, def.ordered)
	}
	wanted := object
	if len(reading.cells) > 0 {
		wanted = map[string]any{}
		for _, name := range reading.names() {
			limit, ok := object[name]
			if !ok {
				return Record{}, nil, bad("limits."+name, "is missing: the reading has this gauge, and nothing says what it is held to")
			}
			wanted[name] = limit
		}
	}
	cell, err := d.named("limits", *def.NamedLimits, wanted)
	if err != nil {
		return Record{}, nil, err
	}
	r := cell.(Record)
	shown := Object{}
	for _, name := range r.names() {
		if err := inOrder("limits."+name, r.Sub(name), def.ordered); err != nil {
			return Record{}, nil, err
		}
		shown = append(shown, Member{name, show(r.Sub(name), def.NamedLimits.Each)})
	}
	return r, shown, nil
}

func show(r Record, fields []Field) Object {
	o := Object{}
	for _, f := range fields {
		if r.Has(f.Name) {
			o = append(o, Member{f.Name, r.cells[f.Name]})
		}
	}
	return o
}

func inOrder(path string, r Record, pairs [][2]string) error {
	for _, p := range pairs {
		if r.Has(p[0]) && r.Has(p[1]) && r.Value(p[0]).Above(r.Value(p[1])) {
			return bad(path+"."+p[0], "(%s) is above %s (%s)", r.Value(p[0]), p[1], r.Value(p[1]))
		}
	}
	return nil
}
