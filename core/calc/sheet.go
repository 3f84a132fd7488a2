package calc

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// TypedDay is what a person gives for the day's sheet, as it was typed: what is
// empty is not known yet.
type TypedDay struct {
	Report       string `json:"report"`
	EngineState  string `json:"engineState"`
	StudentCross string `json:"studentCross"`
	Left         string `json:"left"`
	Right        string `json:"right"`
	Run          string `json:"run"`
	Over50       string `json:"over50"`
	Power        string `json:"power"`
	TurnBack     string `json:"turnBack"`
	Flies        string `json:"flies"`
	Reads        string `json:"reads"`
	Runway       string `json:"runway"` // chosen; empty is the best
	Said         string `json:"said"`
	// Own are the student's own numbers, by the lines of the sheet.
	Own map[string]string `json:"own"`
	// FuelMethod is how the school takes the tanks.
	FuelMethod string `json:"fuelMethod"`
	// Units are those that numbers are typed and shown in.
	Units quantity.Units `json:"units"`
}

// FreshDay is what the sheet begins with: a student's crosswind of 8 kt and
// turning back from 900 ft.
func FreshDay(u quantity.Units) TypedDay {
	cross, _ := u.Show(quantity.Scaled(8, 0), "kt")
	turnBack, _ := u.Show(quantity.Scaled(900, 0), "ft")
	return TypedDay{
		EngineState: "cold", StudentCross: cross.String(), TurnBack: turnBack.String(), Own: map[string]string{},
		Units: u,
	}
}

// Sheet is the day on one sheet: every number that can be computed of what was
// given, each with where it comes from.
type Sheet struct {
	Lines   []Line       `json:"lines"`
	Runways []RunwayLine `json:"runways"`
	Runway  string       `json:"runway"`
	Advice  []Spoken     `json:"advice"`
	// Wrong says by calculator what cannot be used.
	Wrong     map[string]string `json:"wrong"`
	Nose      string            `json:"nose"`
	Sentences []BriefSentence   `json:"sentences"`
	Asks      Asks              `json:"asks"`
}

// Asks says which of the fields the aircraft has a use for.
type Asks struct {
	Engine     bool   `json:"engine"`
	Tanks      bool   `json:"tanks"`
	HoverPower bool   `json:"hoverPower"`
	Run        string `json:"run"`    // what the run is called
	Over50     string `json:"over50"` // and the distance to 50 ft
}

// Line is one number of the sheet.
type Line struct {
	ID     string    `json:"id"`
	Label  string    `json:"label"`
	Value  string    `json:"value"`
	Unit   string    `json:"unit"`
	Source string    `json:"source"`
	Own    *Compared `json:"own,omitempty"`
}

// Compared is how a student's own number stands beside the computed one.
type Compared struct {
	Words string `json:"words"`
	State string `json:"state" enum:"within,attend,out"`
}

// RunwayLine is one runway with its wind.
type RunwayLine struct {
	Name   string `json:"name"`
	Along  string `json:"along"`
	Across string `json:"across"`
	Words  string `json:"words"`
	State  string `json:"state" enum:"within,out"`
}

// Spoken is advice, and whether it asks to be attended to or only goes with the
// numbers.
type Spoken struct {
	Advice
	Beside bool `json:"beside"`
}

// besideCodes are advice that only goes with the numbers.
var besideCodes = []string{"general-chart", "fades", "if-flooded"}

// day is a sheet being computed.
type day struct {
	Sheet
	typed     TypedDay
	typ       aircraft.Type
	field     weather.Aerodrome
	equipment []string
	tables    Tables
	answers   map[string]form.Object
	parted    []runwayWind
}

// PlanDay computes the day's sheet of an aircraft at its base.
func PlanDay(typed TypedDay, t aircraft.Type, equipment []string, field weather.Aerodrome, icing []IcingBand) Sheet {
	d := &day{typed: typed, typ: t, field: field, equipment: equipment, answers: map[string]form.Object{},
		tables: Tables{Type: func(string) (aircraft.Type, bool) { return t, true }, Icing: icing}}
	d.Sheet = Sheet{Lines: []Line{}, Runways: []RunwayLine{}, Advice: []Spoken{}, Wrong: map[string]string{},
		Sentences: []BriefSentence{},
		Asks: Asks{
			Engine: t.Prime != nil, Tanks: t.Fuel != nil && t.Fuel.OneTank, HoverPower: t.Class == "helicopter",
			Run: "Ground run",
		}}
	if d.Asks.HoverPower {
		d.Asks.Run = "Clear the fence"
	}
	d.Asks.Over50 = typed.Units.Say("To 50 ft")
	if strings.TrimSpace(typed.Report) != "" {
		d.weather()
	}
	d.fuel()
	d.lines()
	return d.Sheet
}

// ask asks a calculator; what it cannot use is noted under its name.
func (d *day) ask(name string, request map[string]any) form.Object {
	data, err := json.Marshal(request)
	if err == nil {
		data, err = Run(name, data, d.tables)
	}
	var answer struct {
		Values form.Object
		Advice []Advice
	}
	if err == nil {
		err = json.Unmarshal(data, &answer)
	}
	if err != nil {
		d.Wrong[name] = d.typed.Units.Say(inWords(name, err))
		return nil
	}
	for _, a := range answer.Advice {
		a.Message = d.typed.Units.Say(a.Message)
		d.Advice = append(d.Advice, Spoken{a, slices.Contains(besideCodes, a.Code)})
	}
	d.answers[name] = answer.Values
	return answer.Values
}

// inWords is what is wrong with a request, its field by the label that a person
// knows it by.
func inWords(name string, err error) string {
	var bad form.Problem
	def, known := Find(name)
	if !errors.As(err, &bad) || !known {
		return err.Error()
	}
	label, fields := "", def.Fields
	for _, part := range strings.Split(bad.Field, ".") {
		part, _, _ = strings.Cut(part, "[")
		f, found := form.Find(fields, part)
		if !found {
			return err.Error()
		}
		label, fields = f.Label, f.Each
	}
	if label == "" {
		return err.Error()
	}
	return strings.ToUpper(label[:1]) + label[1:] + " " + bad.Reason + "."
}

// value is a computed value as text; empty when there is none.
func (d *day) value(calculator, name string) string {
	raw, _ := d.answers[calculator].Get(name).(json.RawMessage)
	var text string
	switch {
	case len(raw) == 0 || string(raw) == "null":
		return ""
	case json.Unmarshal(raw, &text) == nil:
		return text
	}
	return string(raw)
}

// number is a typed number as a calculator takes it, in the unit that it was
// typed in; what is none is passed on as text, and refused there with its
// field's name.
func (d *day) number(text, base string) any {
	n, why := form.PlainNumber(text, "")
	if why != "" {
		return strings.TrimSpace(text)
	}
	if unit := d.typed.Units.For(base); unit != base {
		return form.Measured(n, unit)
	}
	return n
}

func (d *day) weather() {
	if d.ask("metar", map[string]any{"text": d.typed.Report}) == nil {
		return
	}
	r := weather.ParseReport(d.typed.Report)
	if r.OATC != nil && r.QNHHPa != nil {
		d.ask("altitudes", map[string]any{"elevationFt": d.field.ElevationFt, "qnhHPa": r.QNHHPa, "oatC": *r.OATC})
	}
	if r.OATC != nil && r.DewPointC != nil {
		d.ask("carb-ice", map[string]any{"oatC": *r.OATC, "dewPointC": *r.DewPointC})
	}
	if r.OATC != nil && d.typ.Prime != nil {
		d.ask("prime", map[string]any{"aircraftType": d.typ.ID, "engineState": d.typed.EngineState, "oatC": *r.OATC})
	}
	if pressure := d.value("altitudes", "pressureAltitudeFt"); d.typ.Power != nil && r.OATC != nil && pressure != "" {
		d.ask("power-limit", map[string]any{
			"aircraftType": d.typ.ID, "pressureAltitudeFt": json.Number(pressure), "oatC": *r.OATC,
		})
	}
	if r.Wind != nil {
		d.wind(*r.Wind)
	}
}

// wind ranks the runways, within the lesser of the type's limit and the
// student's, and goes on to what follows from the one that is taken.
func (d *day) wind(w weather.Wind) {
	most, tail := quantity.Scaled(99, 0), 5
	if d.typ.Winds != nil {
		most, tail = quantity.Scaled(int64(d.typ.Winds.CrosswindKt), 0), d.typ.Winds.TailwindKt
	}
	var cross any = most
	if text := strings.TrimSpace(d.typed.StudentCross); text != "" {
		own, err := d.speed(text)
		if err != nil || own.Sign() < 0 {
			d.Wrong["wind"] = "The student’s crosswind " + notSpeed(err) + ": “" + form.Clip(text) + "”."
			return
		}
		if own.Below(most) {
			cross = d.number(text, "kt")
		}
	}
	var direction any
	if w.DirectionDeg != nil {
		direction = *w.DirectionDeg
	} else if w.Calm {
		direction = 0
	}
	runways := []map[string]any{}
	for _, r := range d.field.Runways {
		runways = append(runways, map[string]any{"name": r.Name, "headingDegMagnetic": r.HeadingDegMagnetic})
	}
	if d.ask("wind",
		map[string]any{"directionDeg": direction, "speedKt": w.SpeedKt, "gustKt": w.GustKt, "reference": "true",
			"variationDegEast": d.field.VariationDegEast,
			"runways":          runways, "limits": map[string]any{"crosswindKt": cross, "tailwindKt": tail}}) == nil {
		return
	}
	if raw, ok := d.answers["wind"].Get("runways").(json.RawMessage); ok {
		d.parted = readRunways(raw)
	}
	d.Runway = d.value("wind", "best")
	if d.typed.Runway != "" {
		d.Runway = d.typed.Runway
	}
	d.rank()
	var magnetic any
	if w.DirectionDeg != nil {
		m := (*w.DirectionDeg - int(math.Round(d.field.VariationDegEast)) + 360) % 360
		magnetic = m
		if !w.Calm {
			d.Nose = d.typed.Units.Say(fmt.Sprintf("For the start: nose towards %d° magnetic, into %d kt.", m,
				w.SpeedKt))
		}
	}
	for _, r := range d.parted {
		if r.Name == d.Runway {
			d.takeoff(r, w, magnetic)
		}
	}
}

// speed is a typed speed in knots.
func (d *day) speed(text string) (quantity.Value, error) {
	n, _ := form.PlainNumber(text, "")
	v, err := quantity.Parse(n.String(), 1)
	if err != nil {
		return v, err
	}
	return quantity.Converted(v, d.typed.Units.For("kt"), "kt")
}

// notSpeed says why a number is no speed.
func notSpeed(err error) string {
	if err != nil {
		return err.Error()
	}
	return "may not be below zero"
}

func readRunways(raw []byte) []runwayWind {
	var all []struct {
		Name                    string
		HeadwindKt, CrosswindKt json.Number
		WithinLimits            bool
		Over                    string
		GustCrosswindKt         json.Number
	}
	if json.Unmarshal(raw, &all) != nil {
		return nil
	}
	out := make([]runwayWind, len(all))
	for i, a := range all {
		head, _ := quantity.Parse(a.HeadwindKt.String(), 1)
		cross, _ := quantity.Parse(a.CrosswindKt.String(), 1)
		gustCross, _ := quantity.Parse(a.GustCrosswindKt.String(), 1)
		out[i] = runwayWind{
			Name: a.Name, HeadwindKt: head, CrosswindKt: cross, GustCrossKt: gustCross, Within: a.WithinLimits,
			Over: a.Over,
		}
	}
	return out
}

// rank lists the runways, those within limits first, the most steady headwind
// first.
func (d *day) rank() {
	ranked := slices.Clone(d.parted)
	slices.SortStableFunc(ranked, func(a, b runwayWind) int {
		if a.Within != b.Within {
			if a.Within {
				return -1
			}
			return 1
		}
		return b.HeadwindKt.Cmp(a.HeadwindKt)
	})
	for _, r := range ranked {
		line := RunwayLine{Name: r.Name, Along: fmt.Sprintf("head %s kt", r.HeadwindKt.Abs()),
			Across: fmt.Sprintf("cross %s kt from %s", r.CrosswindKt.Abs(), side(r.CrosswindKt)),
			Words:  "within limits", State: "within"}
		if r.HeadwindKt.Sign() < 0 {
			line.Along = fmt.Sprintf("tail %s kt", r.HeadwindKt.Abs())
		}
		if !r.Within {
			line.Words, line.State = r.Over, "out"
		}
		for _, words := range []*string{&line.Along, &line.Across, &line.Words} {
			*words = d.typed.Units.Say(*words)
		}
		d.Runways = append(d.Runways, line)
	}
}

// takeoff computes the half-way speed and the brief for the runway taken.
func (d *day) takeoff(r runwayWind, w weather.Wind, magnetic any) {
	for _, s := range d.typ.Speeds {
		if s.ID == "rotate" {
			d.ask("half-way-speed", map[string]any{"liftOffKt": s.Knots, "headwindKt": r.HeadwindKt})
		}
	}
	i := slices.IndexFunc(d.field.Runways, func(f weather.Runway) bool { return f.Name == r.Name })
	if i < 0 || strings.TrimSpace(d.typed.Run) == "" {
		return
	}
	runway := d.field.Runways[i]
	performance := map[string]any{"groundRunM": d.number(d.typed.Run, "m")}
	if strings.TrimSpace(d.typed.Over50) != "" {
		performance["over50FtM"] = d.number(d.typed.Over50, "m")
	}
	if d.Asks.HoverPower && strings.TrimSpace(d.typed.Power) != "" {
		performance["powerNeeded"] = d.number(d.typed.Power, "")
	}
	if limit := d.value("power-limit", "limit"); limit != "" {
		performance["powerLimit"] = json.Number(limit)
	}
	school := map[string]any{"turnBackFt": nil}
	if strings.TrimSpace(d.typed.TurnBack) != "" {
		school["turnBackFt"] = d.number(d.typed.TurnBack, "ft")
	}
	for name, words := range map[string]string{"flies": d.typed.Flies, "troubleshoots": d.typed.Reads} {
		if strings.TrimSpace(words) != "" {
			school[name] = strings.TrimSpace(words)
		}
	}
	where := map[string]any{
		"name": runway.Name, "headingDegMagnetic": runway.HeadingDegMagnetic, "availableM": runway.LengthM,
	}
	if runway.Surface != "" {
		where["surface"] = runway.Surface
	}
	request := map[string]any{"aircraftType": d.typ.ID, "runway": where,
		"wind":        map[string]any{"directionDeg": magnetic, "speedKt": w.SpeedKt, "gustKt": w.GustKt},
		"performance": performance, "school": school, "elevationFt": d.field.ElevationFt}
	if density := d.value("altitudes", "densityAltitudeFt"); density != "" {
		request["densityAltitudeFt"] = json.Number(density)
	}
	if d.ask("takeoff-brief", request) != nil {
		raw, _ := d.answers["takeoff-brief"].Get("sentences").(json.RawMessage)
		_ = json.Unmarshal(raw, &d.Sentences) // it was made of them
		for i, s := range d.Sentences {
			d.Sentences[i].Text = d.typed.Units.Say(s.Text)
			if strings.TrimSpace(d.typed.Said) != "" {
				d.Sentences[i].Missing = unsaid(d.Sentences[i].Text, d.typed.Said)
			}
		}
	}
}

func (d *day) fuel() {
	if d.typ.Fuel == nil || !d.typ.Fuel.OneTank || strings.TrimSpace(d.typed.Left) == "" ||
		strings.TrimSpace(d.typed.Right) == "" {
		return
	}
	most := d.typ.Fuel.ImbalanceMaxL
	if most == 0 {
		most = 999
	}
	request := map[string]any{
		"aircraftType": d.typ.ID, "leftL": d.number(d.typed.Left, "L"), "rightL": d.number(d.typed.Right, "L"),
		"burnLPerHour": d.typ.Fuel.BurnLPerHour, "imbalanceMaxL": most,
	}
	if d.typed.FuelMethod != "" {
		request["method"] = d.typed.FuelMethod
	}
	d.ask("fuel-plan", request)
}

// lines lists what was computed.
func (d *day) lines() {
	places := 1
	for _, e := range d.typ.Equipment {
		if e.ID == "second-altimeter" && (!e.Optional || slices.Contains(d.equipment, e.ID)) {
			places++
		}
	}
	set := "altimeter setting, in 1 place"
	if places > 1 {
		set = fmt.Sprintf("altimeter setting, in %d places", places)
	}
	type source struct{ id, label, calculator, value, unit, source string }
	pressures := []source{
		{"qnh", set, "metar", "qnhHPa", "hPa", "report"},
		{"inhg", "the same", "metar", "altimeterInHg", "inHg", "report"},
	}
	if d.typed.Units.For("hPa") == "inHg" {
		pressures[0].label, pressures[1].label = pressures[1].label, pressures[0].label
		slices.Reverse(pressures)
	}
	for _, l := range append(pressures, []source{
		{"pa", "pressure altitude", "altitudes", "pressureAltitudeFt", "ft", "elevation, setting"},
		{"da", "density altitude", "altitudes", "densityAltitudeFt", "ft", "pressure altitude, temperature"},
		{"humidity", "humidity", "carb-ice", "humidityPercent", "%", "temperature, dew point"},
		{"ice", "icing band", "carb-ice", "band", "", "general chart"},
		{
			"prime", "prime, " + d.value("prime", "method"), "prime", "amount", d.value("prime", "unit"),
			"type, engine, temperature",
		},
		{
			"power", d.value("power-limit", "label"), "power-limit", "limit", d.value("power-limit", "unit"),
			"type, pressure altitude, temperature",
		},
		{"runway", "runway", "wind", "best", "", "wind, limits"},
		{"half", "speed at half of the run", "half-way-speed", "halfWayKt", "kt", "lift-off speed, headwind"},
		{"start", "tank for the start", "fuel-plan", "startTank", "", "tanks"},
		{"takeoff", "tank for take-off", "fuel-plan", "takeoffTank", "", "tanks"},
		{"change", "first change after", "fuel-plan", "firstChangeMinutes", "min", "tanks, burn, imbalance"},
	}...) {
		value := d.value(l.calculator, l.value)
		if value == "" || l.id == "ice" && d.typ.EngineKind != "piston" {
			continue
		}
		line := Line{ID: l.id, Label: l.label, Value: value, Unit: l.unit, Source: l.source}
		if n, err := quantity.Parse(value, 3); err == nil && l.unit != "hPa" {
			n, line.Unit = d.typed.Units.Show(n, l.unit)
			line.Value = n.String()
		}
		if own := strings.TrimSpace(d.typed.Own[l.id]); own != "" {
			c := compare(own, line.Value, line.Unit)
			line.Own = &c
		}
		d.Lines = append(d.Lines, line)
	}
}

// compare holds a student's own number against the computed one: within two
// hundredths of it, or one unit, it is the same.
func compare(own, value, unit string) Compared {
	computed, err := strconv.ParseFloat(value, 64)
	if err != nil {
		if strings.EqualFold(own, value) {
			return Compared{"the same", "within"}
		}
		return Compared{"not the same", "out"}
	}
	n, why := form.PlainNumber(own, unit)
	mine, err := n.Float64()
	if why != "" || err != nil {
		return Compared{fmt.Sprintf("“%s” is no number", form.Clip(own)), "out"}
	}
	off := math.Round((mine-computed)*100) / 100
	signed := strconv.FormatFloat(off, 'f', -1, 64)
	if off > 0 {
		signed = "+" + signed
	}
	switch {
	case math.Abs(off) > math.Max(1, math.Abs(computed)*0.02):
		return Compared{strings.TrimSpace(signed + " " + unit), "attend"}
	case off == 0:
		return Compared{"the same", "within"}
	}
	return Compared{signed, "within"}
}
