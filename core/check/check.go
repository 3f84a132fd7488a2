// Package check judges measured checks: a reading is held to limits under
// conditions and gives a verdict. A check is one file with its fields and its
// rules, and one line in the table of All.
//
// Every number is brought to its field's resolution on entry, a reading equal
// to a limit is within it, and nothing here knows the time or the place.
package check

import (
	"cmp"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// RulesVersion names the rules of this package and of package lesson. It
// changes whenever a verdict or a level could.
const RulesVersion = "2026.19"

// Definition declares everything about a check: what is read, what it is held
// to and drawn on, what may lie behind its findings and what to do about them,
// an example, and the rules. Entry form, reference page, API schema and golden
// run follow from it.
type Definition struct {
	Name   string       `json:"name"`
	Title  string       `json:"title"`
	Rule   string       `json:"rule"`
	Fields []form.Field `json:"fields"`
	Limits []form.Field `json:"limits"`
	// NamedReading and NamedLimits hold for checks of whatever gauges a type
	// has: the objects are keyed by the gauges' names.
	NamedReading *form.Field `json:"namedReading,omitempty"`
	NamedLimits  *form.Field `json:"namedLimits,omitempty"`
	// Scales are what the readings and values are drawn on, in the order one
	// reads them. Checks of named gauges draw one for each gauge; checks of
	// what is only seen have none.
	Scales []Scale `json:"scales"`
	// Trace names the speeds that are drawn as steps, in the order of the
	// check; dropMax among the limits is drawn below the first.
	Trace []string `json:"trace,omitempty"`
	// Causes and Actions are all that the check's findings can name.
	Causes  []Cause  `json:"causes"`
	Actions []Action `json:"actions"`

	// fits are the parts without which a type has no such check; see
	// aircraft.Type.Fits.
	fits []string
	// byPower says that a name's limits may differ by power; see bandsAt.
	byPower bool
	// ordered lists pairs of limits of which the first may not be above the
	// second.
	ordered [][2]string
	// needs lists the conditions without which the check cannot be judged.
	needs []string
	// example makes a reading within limits, given the conditions that it needs.
	example func(s sample) map[string]any
	given   map[string]any
	// sound refuses readings that contradict each other, naming the field.
	sound func(in input) error
	judge func(in input, out *sheet)
}

// Fits reports whether an aircraft type can have the check at all: its parts
// are what the check tests.
func (d Definition) Fits(t aircraft.Type) bool { return t.Fits(d.fits) }

// Ordered are pairs of limits of the check of which the first may not be above
// the second.
func (d Definition) Ordered() [][2]string { return slices.Clone(d.ordered) }

// input is one decoded request.
type input struct {
	reading, limits, conditions form.Record
	// speedUnit is rpm or percent, for messages.
	speedUnit string
	// lean says whether leaning on the ground is allowed.
	lean bool
	// held is what was said of a gauge beside its number.
	held map[string]held
}

// instrument reports whether instrument rules must be assumed: they are flown,
// or nothing says that they are not.
func (in input) instrument() bool { return in.conditions.Text("rules") != "VFR" }

// dark reports whether night must be assumed.
func (in input) dark() bool { return !in.conditions.Has("night") || in.conditions.Flag("night") }

// All lists the checks in the order a flight meets them.
func All() []Definition { return slices.Clone(table) }

// table is every check, in the order a flight meets them.
var table = []Definition{
	battery, pistonStart, dieselStart, turbineStart, clutch,
	altimeter, heading, database,
	magneto, lanes, controlUnit, carbHeat, mixturePeak, propeller, governorHold, feather,
	needleSplit, deceleration, hydraulics, lowRotorWarning,
	suction, charging, fuelPressure, gauges, enginesDiffer,
	idle, staticRPM, idleMixture, deadCut,
}

// Find returns the check of that name.
func Find(name string) (Definition, bool) {
	i := slices.IndexFunc(table, func(d Definition) bool { return d.Name == name })
	if i < 0 {
		return Definition{}, false
	}
	return table[i], true
}

// Request is one request as it came in: objects keep json.Number values.
type Request struct {
	AircraftType string
	Engine       int
	Attempt      int
	Reading      map[string]any
	Limits       map[string]any
	Conditions   map[string]any
	// Equipment is what of the type's optional equipment is fitted; nil where nobody
	// says, and the strictest of what may be fitted counts.
	Equipment []string
	// Before are the places whose findings earlier judged tries asked to look at
	// again. Where it is nil nobody says: from the second attempt on all count as
	// having come before.
	Before map[Place]bool
}

// came reports whether an earlier try had a finding at the same place.
func (r Request) came(f Finding) bool {
	if r.Before == nil {
		return r.Attempt > 1
	}
	return r.Before[f.At()]
}

// Run judges one JSON request and returns the verdict as one line of JSON. The
// error is an form.Problem when the request cannot be used.
func Run(name string, request []byte, types aircraft.Finder) ([]byte, error) {
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
	object, err := form.ParseObject(request)
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
				return r, form.Bad(name, "must be the id of an aircraft type")
			}
			r.AircraftType = text
		case "engine":
			r.Engine, err = form.WholeNumber(name, raw, 1, 4)
		case "attempt":
			r.Attempt, err = form.WholeNumber(name, raw, 1, 99)
		case "reading":
			r.Reading, err = objectField(name, raw)
		case "limits":
			r.Limits, err = objectField(name, raw)
		case "conditions":
			r.Conditions, err = objectField(name, raw)
		case "equipment":
			r.Equipment, err = fittedField(raw)
		default:
			err = form.Bad(cmp.Or(form.Clip(name), "request"),
				"is not known here; allowed: aircraftType, engine, attempt, reading, limits, conditions, equipment")
		}
		if err != nil {
			return r, err
		}
	}
	if r.Reading == nil {
		return r, form.Bad("reading", "is missing: an object with the check's readings")
	}
	return r, nil
}

// fittedField reads the ids of what is fitted.
func fittedField(raw any) ([]string, error) {
	all, ok := raw.([]any)
	if !ok || len(all) > mostFitted {
		return nil, form.Bad("equipment", "must be a list of at most %d ids", mostFitted)
	}
	out := []string{}
	for i, one := range all {
		id, isText := one.(string)
		if !isText {
			return nil, form.Bad(fmt.Sprintf("equipment[%d]", i), "must be the id of equipment of the type")
		}
		out = append(out, id)
	}
	return out, nil
}

// mostFitted bounds the equipment that a request names.
const mostFitted = 64

func objectField(name string, raw any) (map[string]any, error) {
	object, ok := raw.(map[string]any)
	if !ok {
		return nil, form.Bad(name, "must be an object")
	}
	return object, nil
}

// conditionFields are the circumstances a request may state.
var conditionFields = []form.Field{
	{Name: "engineKind", Kind: form.Choice, Choices: []string{"piston", "diesel", "turbine"}, Optional: true},
	{Name: "rules", Kind: form.Choice, Choices: []string{"VFR", "IFR"}, Optional: true},
	{Name: "night", Kind: form.Flag, Optional: true},
	{Name: "oatC", Kind: form.Number, Unit: "°C", Decimals: 1, Signed: true, Optional: true},
	{Name: "elevationFt", Kind: form.Number, Unit: "ft", Signed: true, Optional: true},
	{Name: "qnhHPa", Kind: form.Number, Unit: "hPa", Decimals: 1, Optional: true},
	{Name: "engineState", Kind: form.Choice, Choices: []string{"cold", "warm", "hot"}, Optional: true},
	{Name: "date", Kind: form.Day, Optional: true},
	{Name: "power", Kind: form.Choice, Choices: Powers, Optional: true},
	{Name: "onRunway", Kind: form.Flag, Optional: true},
}

// ParseConditions decodes and checks conditions on their own, as a lesson
// states them when it opens.
func ParseConditions(object map[string]any) (form.Record, error) {
	return form.RPM.Read("conditions", object, conditionFields)
}

// Judge gives the verdict on one request. The error is an form.Problem that
// names the field that cannot be used. Where equipment limits the check and nobody
// says what is fitted, the verdict is the most severe of those that there may be.
func Judge(name string, r Request, types aircraft.Finder) (Verdict, error) {
	t, found := aircraft.Type{}, false
	if r.AircraftType != "" {
		t, found = types(r.AircraftType)
	}
	if !found {
		return judge(name, r, types)
	}
	for i, id := range r.Equipment {
		if !slices.ContainsFunc(t.Equipment, func(e aircraft.Equipment) bool { return e.ID == id }) {
			return Verdict{}, form.Bad(fmt.Sprintf("equipment[%d]", i), "%q is nothing that a %s can have",
				form.Clip(id), t.Name)
		}
	}
	fitted := [][]string{r.Equipment}
	if r.Equipment == nil {
		for _, id := range t.Limiting(name) {
			for _, others := range slices.Clone(fitted) {
				fitted = append(fitted, append(slices.Clone(others), id))
			}
		}
	}
	var worst Verdict
	for i, one := range fitted {
		own := t.With(one)
		v, err := judge(name, r, func(string) (aircraft.Type, bool) { return own, true })
		if err != nil {
			return v, err
		}
		if i == 0 || v.worse(worst) {
			worst = v
		}
	}
	return worst, nil
}

// worse reports whether a verdict is more severe than another: by its decision, then
// by its outcome.
func (v Verdict) worse(than Verdict) bool {
	return cmp.Or(cmp.Compare(slices.Index(decisions, v.Decision), slices.Index(decisions, than.Decision)),
		cmp.Compare(slices.Index(outcomes, v.Outcome), slices.Index(outcomes, than.Outcome))) > 0
}

func judge(name string, r Request, types aircraft.Finder) (Verdict, error) {
	def, ok := Find(name)
	if !ok {
		return Verdict{}, form.Bad("check", "%q is not known; known: %s", name, checkNames())
	}
	in := input{lean: true, speedUnit: "rpm"}
	var own map[string]any
	var typ *aircraft.Type
	kind, tachometer := "", ""
	if r.AircraftType != "" {
		t, found := types(r.AircraftType)
		if !found {
			return Verdict{}, form.Bad("aircraftType", "%q is not a known type", r.AircraftType)
		}
		if r.Engine > t.Engines {
			return Verdict{}, form.Bad("engine", "must be 1 to %d for the %s", t.Engines, t.Name)
		}
		typ = &t
		own, in.lean, kind, tachometer = t.Limits[name], t.LeanOnGround, t.EngineKind, cmp.Or(t.Tachometer, "rpm")
	}
	limits, err := merge(own, r.Limits)
	if err != nil {
		return Verdict{}, err
	}
	if in.conditions, err = ParseConditions(r.Conditions); err != nil {
		return Verdict{}, err
	}
	if def.byPower {
		if limits, err = bandsAt(limits, in.conditions.Text("power")); err != nil {
			return Verdict{}, err
		}
	}
	if unit := r.Reading["unit"]; (unit == "rpm" || unit == "percent") && unit != tachometer &&
		def.ownSpeeds(own, r.Limits) {
		return Verdict{}, form.Bad("reading.unit", "must be %s: the tachometer of the type shows nothing else",
			tachometer)
	}
	read := def.tachometer(r.Reading, typ)
	if read == form.Percent {
		in.speedUnit = "%"
	}
	unitOf := func(name string) string { _, unit := gaugeWords(typ, name); return unit }
	bare := r.Reading
	if def.byPower {
		if bare, in.held, err = bareGauges(bare); err != nil {
			return Verdict{}, err
		}
	}
	if in.reading, err = def.reading(read, bare, unitOf); err != nil {
		return Verdict{}, err
	}
	var shown form.Object
	if in.limits, shown, err = def.limits(read, limits, in.reading, unitOf); err != nil {
		return Verdict{}, err
	}
	if kind != "" && !in.conditions.Has("engineKind") {
		in.conditions = in.conditions.With("engineKind", kind)
	}
	for _, need := range def.needs {
		if !in.conditions.Has(need) {
			return Verdict{}, form.Bad("conditions."+need, "is missing: this check cannot be judged without it")
		}
	}
	if def.sound != nil {
		if err := def.sound(in); err != nil {
			return Verdict{}, err
		}
	}
	out := &sheet{typ: typ}
	def.judge(in, out)
	v := out.settle(name, r.came, shown)
	v.Tiles = def.tiles(v, read)
	return v, nil
}

// tachometerUnit says in what a reading's speeds are read, where that is not
// as the type's tachometer shows them: it is not asked for.
var tachometerUnit = form.Field{
	Name: "unit", Label: "speeds in", Kind: form.Choice, Choices: []string{"rpm", "percent"}, Optional: true,
}

// tachometer is how a reading's speeds are read: as it says itself, else as the
// type's tachometer shows them.
func (d Definition) tachometer(reading map[string]any, t *aircraft.Type) form.Tachometer {
	unit := reading["unit"]
	if f, asks := form.Find(d.Fields, "unit"); unit == nil && asks && f.Optional && t != nil {
		unit = t.Tachometer
	}
	said, _ := unit.(string)
	return form.TachometerIn(said)
}

// ownSpeeds reports whether speeds are held to limits of the type's own; where
// they are compared with a run-up speed, whose that is decides.
func (d Definition) ownSpeeds(own, given map[string]any) bool {
	if own["base"] != nil {
		return given["base"] == nil
	}
	return slices.ContainsFunc(d.Limits,
		func(f form.Field) bool { return f.Unit == form.Speed && own[f.Name] != nil && given[f.Name] == nil })
}

// speed is a speed with its unit, as it stands in a sentence.
func (in input) speed(v quantity.Value) string { return v.String() + " " + in.speedUnit }

func checkNames() string {
	names := make([]string, len(table))
	for i, d := range table {
		names[i] = d.Name
	}
	return strings.Join(names, ", ")
}

// CheckLimits reports whether limits, as a type's data has them, are complete
// and in order for the check of that name.
func CheckLimits(name string, limits map[string]any) error {
	def, ok := Find(name)
	if !ok {
		return form.Bad("check", "%q is not known; known: %s", name, checkNames())
	}
	merged, err := merge(limits, nil)
	if err != nil {
		return err
	}
	powers := []string{""}
	if def.byPower {
		powers = append(powers, Powers...)
	}
	for _, power := range powers {
		bands := merged
		if def.byPower {
			if bands, err = bandsAt(merged, power); err != nil {
				return err
			}
		}
		if _, _, err := def.limits(form.RPM, bands, form.Record{}, nil); err != nil {
			return err
		}
	}
	return nil
}

// LimitProblems lists the mistakes in the limits of a type: checks that do not
// exist, limits that are missing or contradict each other.
func LimitProblems(t aircraft.Type) []form.Problem {
	var faults []form.Problem
	for name, limits := range t.Limits {
		if err := CheckLimits(name, limits); err != nil {
			faults = append(faults, form.Problem{Field: "$.limits." + name, Reason: err.Error()})
		}
	}
	limiting := 0
	for i, e := range t.Equipment {
		if e.Limits == nil {
			continue
		}
		at := fmt.Sprintf("$.equipment[%d].limits", i)
		if limiting++; limiting > aircraft.MostLimiting {
			faults = append(faults, form.Problem{
				Field: at,
				Reason: fmt.Sprintf("at most %d pieces of equipment can have limits of their own",
					aircraft.MostLimiting),
			})
		}
		if !e.Optional {
			faults = append(faults, form.Problem{
				Field: at, Reason: "is of equipment that every aircraft has: its limits are the type's own",
			})
		}
		fitted := t.With([]string{e.ID})
		for name := range e.Limits {
			if t.Limits[name] == nil {
				faults = append(faults, form.Problem{
					Field: at + "." + name, Reason: "the type has no limits of this check for them to lie over",
				})
			} else if err := CheckLimits(name, fitted.Limits[name]); err != nil {
				faults = append(faults, form.Problem{Field: at + "." + name, Reason: err.Error()})
			}
		}
	}
	return form.SortProblems(faults)
}

// merge lays the request's limits over the type's own, field by field, and one
// level deeper for gauges. A band that is given holds at every power, unless it
// says itself how it differs.
func merge(own, given map[string]any) (map[string]any, error) {
	merged := map[string]any{}
	if own != nil {
		data, err := json.Marshal(own)
		if err != nil {
			return nil, fmt.Errorf("reading the type's limits: %w", err)
		}
		if merged, err = form.ParseObject(data); err != nil {
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
		delete(below, "at")
		for inner, v := range over {
			below[inner] = v
		}
	}
	return merged, nil
}

func (d Definition) reading(t form.Tachometer, object map[string]any, unitOf func(string) string) (form.Record, error) {
	if d.NamedReading == nil {
		return t.Read("reading", object, d.Fields)
	}
	if len(object) == 0 {
		return form.Record{}, form.Bad("reading", "must hold at least one gauge")
	}
	return t.ReadNamed("reading", object, *d.NamedReading, unitOf)
}

// limits decodes limits and the form in which a verdict shows them. Of named
// limits only those of the reading are held and shown; an empty reading takes
// them all.
func (d Definition) limits(t form.Tachometer, object map[string]any, reading form.Record,
	unitOf func(string) string) (form.Record, form.Object, error) {
	if d.NamedLimits == nil {
		r, err := t.Read("limits", object, d.Limits)
		if err != nil {
			return form.Record{}, nil, err
		}
		return r, r.Object(d.Limits), inOrder("limits", r, d.ordered)
	}
	wanted := object
	if names := reading.Names(); len(names) > 0 {
		wanted = map[string]any{}
		for _, name := range names {
			limit, ok := object[name]
			if !ok {
				return form.Record{}, nil, form.Bad("limits."+name,
					"is missing: the reading has this gauge, and nothing says what it is held to")
			}
			wanted[name] = limit
		}
	}
	r, err := t.ReadNamed("limits", wanted, *d.NamedLimits, unitOf)
	if err != nil {
		return form.Record{}, nil, err
	}
	shown := form.Object{}
	for _, name := range r.Names() {
		if err := inOrder("limits."+name, r.Sub(name), d.ordered); err != nil {
			return form.Record{}, nil, err
		}
		if d.byPower {
			if err := soundBand("limits."+name, r.Sub(name)); err != nil {
				return form.Record{}, nil, err
			}
		}
		shown = append(shown, form.Member{Name: name, Value: r.Sub(name).Object(d.NamedLimits.Each)})
	}
	return r, shown, nil
}

func inOrder(path string, r form.Record, pairs [][2]string) error {
	for _, p := range pairs {
		if r.Has(p[0]) && r.Has(p[1]) && r.Value(p[0]).Above(r.Value(p[1])) {
			return form.Bad(path+"."+p[0], "(%s) is above %s (%s)", r.Value(p[0]), p[1], r.Value(p[1]))
		}
	}
	return nil
}

// Schemas are the JSON Schemas of every check's requests, by its name.
func Schemas() map[string]map[string]any {
	out := map[string]map[string]any{}
	for _, d := range table {
		out[d.Name] = d.RequestSchema()
	}
	return out
}

// RequestSchema is the JSON Schema of the check's requests.
func (d Definition) RequestSchema() map[string]any {
	reading, limits := form.Schema(d.Fields), form.Schema(d.Limits)
	if d.NamedReading != nil {
		reading, limits = form.Schema([]form.Field{*d.NamedReading}), form.Schema([]form.Field{*d.NamedLimits})
		reading = reading["properties"].(map[string]any)["reading"].(map[string]any)
		limits = limits["properties"].(map[string]any)["limits"].(map[string]any)
	}
	delete(limits, "required") // those left out are the type's own
	if d.byPower {
		each := reading["additionalProperties"].(map[string]any)
		each["anyOf"] = append(each["anyOf"].([]any), heldSchema())
	}
	if each, ok := limits["additionalProperties"].(map[string]any); ok && d.byPower {
		edges := each["properties"].(map[string]any)
		band := maps.Clone(each)
		delete(band, "required")
		band["properties"] = maps.Clone(edges)
		bands := map[string]any{}
		for _, p := range Powers {
			bands[p] = band
		}
		edges["at"] = map[string]any{
			"type": "object", "additionalProperties": false, "properties": bands,
			"description": "bands that differ by power",
		}
	}
	whole := func(most int) map[string]any { return map[string]any{"type": "integer", "minimum": 1, "maximum": most} }
	return map[string]any{
		"type": "object", "additionalProperties": false, "title": d.Title, "description": d.Rule,
		"required": []string{"reading"},
		"properties": map[string]any{
			"aircraftType": map[string]any{"type": "string"}, "engine": whole(4), "attempt": whole(99),
			"reading": reading, "limits": limits, "conditions": form.Schema(conditionFields),
			"equipment": map[string]any{
				"type": "array", "maxItems": mostFitted, "items": map[string]any{"type": "string"},
				"description": "what of the type's optional equipment is fitted; left out, the strictest counts",
			},
		},
	}
}
