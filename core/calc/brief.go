package calc

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// takeoffBrief builds the spoken take-off brief sentence by sentence, in the
// order it is said, each with the element it is graded by and the sources of
// its numbers. It claims nothing that was not given or computed. At half of the
// ground run the speed of half-way-speed is to be seen; the point to be flying by
// is all of that run with the school's margin (a quarter where it gives none).
// What is over a limit is advice, and stands before every sentence. Words are
// those of the type: its levers, its ignition, its gear. The turn-back height is
// the school's.
var takeoffBrief = Definition{
	Name: "takeoff-brief", Title: "Take-off brief",
	Rule:   "A brief decides now what there is no time to decide later. A sentence without a number in it is a wish.",
	Source: "type, runway, wind, performance and the school's settings, named at each sentence",
	Fields: []form.Field{aircraftTypeField,
		{Name: "runway", Label: "runway", Kind: form.Inner, Each: []form.Field{text("name", "name"), number("headingDegMagnetic", "heading", "°", 0, circle),
			number("availableM", "run available", "m", 0), text("surface", "surface", optional)}},
		{Name: "wind", Label: "wind", Kind: form.Inner, Each: []form.Field{number("directionDeg", "from, magnetic", "°", 0, nullable, circle), number("speedKt", "speed", "kt", 0),
			number("gustKt", "gusts", "kt", 0, optional, nullable)}},
		{Name: "performance", Label: "performance", Kind: form.Inner, Each: []form.Field{number("groundRunM", "ground run", "m", 0), number("over50FtM", "to 50 ft", "m", 0, optional),
			number("flapsDeg", "flaps", "°", 0, optional), number("powerNeeded", "power the hover needs", "", 1, optional), number("powerLimit", "power limit of the day", "", 1, optional)}},
		{Name: "school", Label: "school", Kind: form.Inner, Each: []form.Field{number("turnBackFt", "turn back from", "ft", 0, nullable), number("marginPercent", "margin over the run", "%", 0, optional),
			text("ahead", "below that", optional), text("flies", "flies", optional), text("troubleshoots", "troubleshoots", optional)}},
		number("elevationFt", "elevation", "ft", 0, signed),
		number("densityAltitudeFt", "density altitude", "ft", 0, signed, optional),
		text("said", "what the student said", func(f *form.Field) { f.Optional, f.Max = true, 4000 }),
	},
	run: runBrief,
}

// BriefSentence is one sentence of a brief.
type BriefSentence struct {
	Element string   `json:"element"`
	Text    string   `json:"text"`
	Sources []string `json:"sources"`
	// Missing are the numbers of the sentence that the student did not say; it
	// is there only when it is known what was said.
	Missing []string `json:"missing,omitempty"`
}

// usualMargin is added to the ground run where the school gives no margin, in
// percent.
const usualMargin = 25

func runBrief(in input) (form.Object, []Advice, error) {
	runway, wind := in.Sub("runway"), in.Sub("wind")
	if runway.Value("availableM").Sign() == 0 {
		return nil, nil, form.Bad("runway.availableM", "must be above zero")
	}
	gust := wind.Value("speedKt")
	if wind.Has("gustKt") {
		if gust = wind.Value("gustKt"); gust.Below(wind.Value("speedKt")) {
			return nil, nil, form.Bad("wind.gustKt", "may not be below speedKt: %s below %s", gust, wind.Value("speedKt"))
		}
	}
	b := &brief{input: in, runway: runway, wind: wind, perf: in.Sub("performance"), school: in.Sub("school"), rotor: in.typ.Has("rotor")}
	angle := wind.Value("directionDeg").Float() - runway.Value("headingDegMagnetic").Float()
	known := wind.Has("directionDeg") || gust.Sign() == 0
	b.parts, b.gusty = part(known, angle, wind.Value("speedKt").Float()), part(known, angle, gust.Float())
	margin := quantity.Scaled(usualMargin, 0)
	if b.school.Has("marginPercent") {
		margin = b.school.Value("marginPercent")
	}
	b.flyingBy = math.Ceil(b.perf.Value("groundRunM").Float()*(100+margin.Float())/100 - 1e-9)

	advice := b.advice(margin)
	b.before()
	b.failures()
	b.who()
	elements := make([]string, len(b.sentences))
	for i, s := range b.sentences {
		elements[i] = s.Element
		if in.Has("said") {
			b.sentences[i].Missing = unsaid(s.Text, in.Text("said"))
		}
	}
	return form.Object{member("sentences", b.sentences), member("elements", elements)}, advice, nil
}

// brief gathers sentences.
type brief struct {
	input
	runway, wind, perf, school form.Record
	parts, gusty               components
	rotor                      bool
	flyingBy                   float64 // the run with the margin, in m
	sentences                  []BriefSentence
}

func (b *brief) say(element, text string, sources ...string) {
	b.sentences = append(b.sentences, BriefSentence{Element: element, Text: text, Sources: sources})
}

// speed is one of the type's own, in knots.
func (b *brief) speed(ids ...string) (int, bool) {
	for _, s := range b.typ.Speeds {
		if slices.Contains(ids, s.ID) {
			return s.Knots, true
		}
	}
	return 0, false
}

// fits says whether the run with its margin lies inside what is available.
func (b *brief) fits() bool { return b.flyingBy <= b.runway.Value("availableM").Float() }

// advice is what is over a limit: of the wind, held to the gust, of the run, of
// the power.
func (b *brief) advice(margin quantity.Value) []Advice {
	var advice []Advice
	add := func(code, format string, args ...any) {
		advice = append(advice, Advice{code, fmt.Sprintf(format, args...)})
	}
	if w := b.typ.Winds; w != nil {
		cross, tail := quantity.Scaled(int64(w.CrosswindKt), 0), quantity.Scaled(int64(w.TailwindKt), 0)
		if b.gusty.cross.Abs().Above(cross) {
			add("crosswind", "The wind has %s kt across; the type's limit is %s kt.", b.gusty.cross.Abs(), cross)
		}
		if (quantity.Value{}).Sub(b.gusty.head).Above(tail) {
			add("tailwind", "The wind has %s kt from behind; the type's limit is %s kt.", b.gusty.head.Abs(), tail)
		}
	}
	run, available := b.perf.Value("groundRunM"), b.runway.Value("availableM")
	switch {
	case b.rotor:
	case run.Above(available):
		add("run-too-long", "Stop: the ground run of %s m is longer than the %s m available. Not from this runway.", run, available)
	case !b.fits():
		add("little-to-spare", "Stop: the ground run of %s m with %s %% more is %.0f m; %s m are available.", run, margin, b.flyingBy, available)
	}
	if over := b.perf.Value("over50FtM"); b.perf.Has("over50FtM") && over.Above(available) {
		add("obstacle", "50 ft is reached after %s m, beyond the %s m available: what stands there?", over, available)
	}
	needed, limit := b.perf.Value("powerNeeded"), b.perf.Value("powerLimit")
	if b.rotor && b.perf.Has("powerNeeded") && b.perf.Has("powerLimit") && needed.Above(limit) {
		add("power-exceeded", "Stop: the hover needs %s; the limit of the day is %s. Less weight, or another day.", b.power(needed), b.power(limit))
	}
	return advice
}

// before are the sentences on what is known before power is raised.
func (b *brief) before() {
	handbook, available := b.typ.Source, b.runway.Value("availableM")
	where := fmt.Sprintf("Runway %s, %s m available", b.runway.Text("name"), available)
	if b.rotor {
		where = fmt.Sprintf("Lift-off towards %s, %s m clear ahead", b.runway.Text("name"), available)
	}
	if surface := b.runway.Text("surface"); surface != "" {
		where += ", " + surface
	}
	b.say("runway", where+".", "runway data")
	b.say("wind", windWords(b.wind, b.parts), "weather report", "wind components")

	configured, sources := []string{}, []string{handbook}
	switch {
	case b.rotor:
		configured = append(configured, "Frictions as set, doors latched, warning lamps out")
	case b.perf.Has("flapsDeg"):
		configured = append(configured, fmt.Sprintf("Flaps %s degrees, trim set", b.perf.Value("flapsDeg")))
	default:
		configured = append(configured, "Flaps and trim for take-off")
	}
	if b.typ.Has("mixture") && b.typ.Has("leaning") {
		configured = append(configured, "mixture for "+densityWords(b.input))
		sources = append(sources, "density altitude")
	} else if b.Has("densityAltitudeFt") {
		configured = append(configured, densityWords(b.input))
		sources = append(sources, "density altitude")
	}
	b.say("configuration", strings.Join(configured, ", ")+".", sources...)
	b.say("speeds", speedWords(b.typ.Speeds), handbook)
	b.performance()
	b.points()
}

// performance is the sentence on what is needed and what there is.
func (b *brief) performance() {
	run, over := b.perf.Value("groundRunM"), ""
	if b.perf.Has("over50FtM") {
		over = fmt.Sprintf(", %s m to 50 feet", b.perf.Value("over50FtM"))
	}
	if !b.rotor {
		b.say("performance", fmt.Sprintf("Ground run %s m%s, %s m available.", run, over, b.runway.Value("availableM")), "performance data", "runway data")
		return
	}
	clear := fmt.Sprintf("%s m to clear the fence%s.", run, over)
	needed, limit := b.perf.Has("powerNeeded"), b.perf.Has("powerLimit")
	needs, most := b.power(b.perf.Value("powerNeeded")), b.power(b.perf.Value("powerLimit"))
	switch {
	case needed && limit:
		b.say("performance", fmt.Sprintf("The hover needs %s, the limit of the day is %s; %s", needs, most, clear), "power table", "performance data")
	case limit:
		b.say("performance", fmt.Sprintf("The limit of the day is %s; %s", most, clear), "power table", "performance data")
	case needed:
		b.say("performance", fmt.Sprintf("The hover needs %s; %s", needs, clear), "performance data")
	default:
		b.say("performance", clear, "performance data")
	}
}

// power is a power in the unit of the type's table.
func (b *brief) power(v quantity.Value) string {
	if b.typ.Power == nil {
		return v.String()
	}
	return v.String() + " " + b.typ.Power.Unit
}

// points are the two points of a run: half of it, with the speed to see there,
// and the one to be flying by. A run that does not fit has none.
func (b *brief) points() {
	if b.rotor {
		b.say("flying-by", "No climb by the edge of the pad means down again, straight ahead.", "school")
		return
	}
	if !b.fits() {
		return
	}
	_, closed := b.stop()
	liftOff, rotates := b.speed("rotate")
	head := b.parts.head.Float()
	flying := fmt.Sprintf("flying by %.0f m, or %s", b.flyingBy, closed)
	if rotates && head < float64(liftOff) {
		b.say("flying-by", fmt.Sprintf("At half of the run, %.0f m, I see %s knots; %s.", b.perf.Value("groundRunM").Float()/2, halfWay(float64(liftOff), head), flying),
			"half-way speed", "performance data", "school")
		return
	}
	b.say("flying-by", sentence(flying), "performance data", "school")
}

// stop is what the hand does when the take-off is given up: as an order, and as
// what is then so.
func (b *brief) stop() (order, so string) {
	switch {
	case b.typ.Has("power-lever") && b.typ.Engines > 1:
		return "both power levers at idle", "both power levers are at idle"
	case b.typ.Engines > 1:
		return "both throttles closed", "both throttles are closed"
	}
	return "the throttle closed", "the throttle is closed"
}

func (b *brief) who() {
	doubt := "Any doubt before the half-way point: stop."
	if b.rotor {
		doubt = "Any doubt before lift-off: stay down."
	}
	flies, reads := b.school.Text("flies"), b.school.Text("troubleshoots")
	switch {
	case flies != "" && reads != "":
		b.say("who", fmt.Sprintf("If anything happens: flies, %s; reads the list, %s. %s", flies, reads, doubt), "school")
	case flies != "" || reads != "":
		b.say("who", fmt.Sprintf("If anything happens: %s flies first, the list comes after. %s", cmp.Or(flies, reads), doubt), "school")
	default:
		b.say("who", "If anything happens: fly first, then the list. "+doubt, "school")
	}
}

// figures are the numbers that stand in a text, such as 610 or 0.3.
func figures(text string) []string {
	var found []string
	digit := func(i int) bool { return i < len(text) && text[i] >= '0' && text[i] <= '9' }
	for i := 0; i < len(text); i++ {
		if !digit(i) {
			continue
		}
		end := i
		for digit(end) {
			end++
		}
		if end < len(text) && text[end] == '.' && digit(end+1) {
			for end++; digit(end); {
				end++
			}
		}
		found = append(found, text[i:end])
		i = end
	}
	return found
}

// unsaid are the numbers of a sentence that stand nowhere in what was said.
// Zeros in front do not matter.
func unsaid(sentence, said string) []string {
	heard := map[string]bool{}
	plain := func(n string) string { return cmp.Or(strings.TrimLeft(n, "0"), "0") }
	for _, n := range figures(said) {
		heard[plain(n)] = true
	}
	var missing []string
	for _, n := range figures(sentence) {
		if !heard[plain(n)] && !slices.Contains(missing, n) {
			missing = append(missing, n)
		}
	}
	return missing
}

// failures are the sentences on the engine, from the run to the climb.
func (b *brief) failures() {
	t, available := b.typ, b.runway.Value("availableM")
	ahead := cmp.Or(b.school.Text("ahead"), "straight ahead, small turns only")
	glide, _ := b.speed("glide", "autorotation")
	if b.rotor {
		b.say("before-rotation", "Engine failure in the hover: level, pedal, cushion with what the rotor holds.", t.Source)
		b.say("no-runway-low", "Low and slow: lever down only as height allows, flare late, level, cushion.", t.Source)
		b.say("no-runway-high", fmt.Sprintf("With height: lever down at once, %d knots, into the wind, field ahead.", glide), t.Source)
		return
	}
	off := "fuel off"
	switch {
	case t.Has("diesel"):
		off = "engine masters and fuel off"
	case t.Has("ignition"):
		off = "fuel and ignition off"
	}
	closed, _ := b.stop()
	b.say("before-rotation", sentence(fmt.Sprintf("failure before rotation: %s, brakes, straight ahead, %s if it will not stop", closed, off)), t.Source)
	b.say("runway-left", fmt.Sprintf("Airborne with runway left: nose down, land on what is left of the %s m, brakes.", available), "runway data")
	if t.Engines > 1 {
		b.oneOfTwo(closed)
		return
	}
	if !b.school.Has("turnBackFt") {
		b.say("no-runway-low", fmt.Sprintf("No runway left: %d knots, %s. No turn back from this runway.", glide, ahead), t.Source, "school")
		b.say("no-runway-high", fmt.Sprintf("Higher: %d knots, a field into the wind, the list from memory, then the call.", glide), t.Source)
		return
	}
	height := b.school.Value("turnBackFt")
	b.say("no-runway-low", fmt.Sprintf("No runway left below %s feet, %s feet on the altimeter: %d knots, %s.", height, height.Add(b.Value("elevationFt")), glide, ahead), "school", "elevation", t.Source)
	high := fmt.Sprintf("Above %s feet a turn back may be tried, into the wind, %d knots", height, glide)
	if climb, known := b.speed("best-rate"); known {
		high += fmt.Sprintf("; climb at %d knots until there", climb)
	}
	b.say("no-runway-high", high+".", "school", t.Source)
}

// oneOfTwo is the failure of one engine of two.
func (b *brief) oneOfTwo(closed string) {
	t := b.typ
	blue, _ := b.speed("blue-line")
	minimum, _ := b.speed("minimum-control")
	gear, up := "", "flaps up"
	if t.Has("retractable-gear") {
		gear, up = " or gear down", "gear and flaps up"
	}
	lever, shut := "its throttle", "feather"
	if t.Has("power-lever") {
		lever, shut = "its power lever", "its engine master off, which feathers it"
	}
	b.say("no-runway-low", fmt.Sprintf("No runway left, below %d knots%s: %s, land ahead; below the minimum control speed of %d knots the rudder cannot hold it.", blue, gear, closed, minimum), t.Source)
	b.say("no-runway-high", fmt.Sprintf("Above it: power up, %s, identify with the dead foot, verify with %s, %s; %d knots, blue line, five degrees towards the live engine.", up, lever, shut, blue), t.Source)
}

func windWords(wind form.Record, parts components) string {
	speed := wind.Value("speedKt")
	if speed.Sign() == 0 && wind.Value("gustKt").Sign() == 0 {
		return "Wind calm."
	}
	from := "variable"
	if wind.Has("directionDeg") {
		from = fmt.Sprintf("%03d degrees", int(wind.Value("directionDeg").Float()))
	}
	words := fmt.Sprintf("Wind %s %s knots", from, speed)
	if wind.Has("gustKt") {
		words += fmt.Sprintf(", gusts %s knots", wind.Value("gustKt"))
	}
	if !wind.Has("directionDeg") {
		return words + ", counted whole as crosswind and as tail wind."
	}
	along := "headwind"
	if parts.head.Sign() < 0 {
		along = "tail wind"
	}
	cross := "no crosswind"
	if parts.cross.Sign() != 0 {
		cross = fmt.Sprintf("crosswind %s knots from the %s", parts.cross.Abs(), side(parts.cross))
	}
	return fmt.Sprintf("%s: %s %s knots, %s.", words, along, parts.head.Abs(), cross)
}

func densityWords(in input) string {
	if in.Has("densityAltitudeFt") {
		return fmt.Sprintf("a density altitude of %s feet", in.Value("densityAltitudeFt"))
	}
	return fmt.Sprintf("%s feet", in.Value("elevationFt"))
}

func speedWords(speeds []aircraft.Speed) string {
	var said []string
	for _, s := range speeds {
		switch s.ID {
		case "rotate", "best-angle", "best-rate", "minimum-control", "blue-line", "climb", "autorotation", "lift-off":
			said = append(said, fmt.Sprintf("%s %d knots", s.Label, s.Knots))
		}
	}
	return sentence(strings.Join(said, ", "))
}
