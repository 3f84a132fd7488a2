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
// ground run the speed of half-way-speed, in whole knots, rounded up, is to be
// seen; the one point that decides is all of that run with the school's margin (a
// quarter where it gives none), and every sentence that names a point names it.
// What is over a limit is advice, and stands before every sentence. Words are
// those of the type: its levers, its ignition, its gear. The turn-back height is
// the school's.
var takeoffBrief = Definition{
	Name: "takeoff-brief", Title: "Take-off brief",
	Rule:   "A brief decides now what there is no time to decide later. A sentence without a number in it is a wish.",
	Source: "type, runway, wind, performance and the school's settings, named at each sentence",
	Fields: []form.Field{aircraftTypeField,
		{Name: "runway", Label: "runway", Kind: form.Inner,
			Each: []form.Field{text("name", "name"), number("headingDegMagnetic", "heading", "°", 0, circle),
				number("availableM", "run available", "m", 0), text("surface", "surface", optional),
				text("fieldAhead", "field ahead", optional), text("landmark", "landmark where one flies by", optional),
				{
					Name: "turnSide", Label: "turn to the", Kind: form.Choice, Choices: []string{"left", "right"},
					Optional: true,
				}}},
		{Name: "wind", Label: "wind", Kind: form.Inner,
			Each: []form.Field{number("directionDeg", "from, magnetic", "°", 0, nullable, circle),
				number("speedKt", "speed", "kt", 0),
				number("gustKt", "gusts", "kt", 0, optional, nullable)}},
		{Name: "performance", Label: "performance", Kind: form.Inner,
			Each: []form.Field{number("groundRunM", "ground run", "m", 0, optional),
				number("over50FtM", "to 50 ft", "m", 0, optional),
				number("flapsDeg", "flaps", "°", 0, optional),
				number("powerNeeded", "power the hover needs", "", 1, optional),
				number("powerLimit", "power limit of the day", "", 1, optional)}},
		{Name: "school", Label: "school", Kind: form.Inner,
			Each: []form.Field{number("turnBackFt", "turn back from", "ft", 0, nullable),
				number("turnBackLeastFt", "turn back from at least", "ft", 0, optional),
				number("decisionKt", "decision speed", "kt", 0, optional),
				number("marginPercent", "margin over the run", "%", 0, optional),
				text("ahead", "below that", optional), text("flies", "flies", optional),
				text("troubleshoots", "troubleshoots", optional)}},
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

// leastTurnBackFt is the lowest height above the ground from which any school may
// brief a turn back.
const leastTurnBackFt = 200

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
			return nil, nil, form.Bad("wind.gustKt", "may not be below speedKt: %s below %s", gust,
				wind.Value("speedKt"))
		}
	}
	least := quantity.Scaled(leastTurnBackFt, 0)
	if own := in.Sub("school").Value("turnBackLeastFt"); own.Above(least) {
		least = own
	}
	if turn := in.Sub("school"); turn.Has("turnBackFt") && turn.Value("turnBackFt").Below(least) {
		return nil, nil, form.Bad("school.turnBackFt",
			"must be at least %s ft above the ground, or null for no turn back: %s", least, turn.Value("turnBackFt"))
	}
	b := &brief{
		input: in, runway: runway, wind: wind, perf: in.Sub("performance"), school: in.Sub("school"),
		rotor: in.typ.Has("rotor"),
	}
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

func (b *brief) add(element, text string, sources ...string) {
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

// runs says whether a ground run was given, fits whether it lies with its margin
// inside what is available.
func (b *brief) runs() bool { return b.perf.Value("groundRunM").Sign() > 0 }
func (b *brief) fits() bool { return b.runs() && b.flyingBy <= b.runway.Value("availableM").Float() }

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
			add("crosswind", "The wind has %s; the type's limit is %s kt.",
				inGusts("across", b.parts.cross, b.gusty.cross), cross)
		}
		if (quantity.Value{}).Sub(b.gusty.head).Above(tail) {
			add("tailwind", "The wind has %s; the type's limit is %s kt.",
				inGusts("from behind", b.parts.head, b.gusty.head), tail)
		}
	}
	run, available := b.perf.Value("groundRunM"), b.runway.Value("availableM")
	switch {
	case b.rotor || !b.runs():
	case run.Above(available):
		add("run-too-long", "Stop: the ground run of %s m is longer than the %s m available. Not from this runway.",
			run, available)
	case !b.fits():
		add("little-to-spare", "Stop: the ground run of %s m with %s %% more is %.0f m; %s m are available.", run,
			margin, b.flyingBy, available)
	}
	if over := b.perf.Value("over50FtM"); b.perf.Has("over50FtM") && over.Above(available) {
		add("obstacle", "50 ft is reached after %s m, beyond the %s m available: what stands there?", over, available)
	}
	needed, limit := b.perf.Value("powerNeeded"), b.perf.Value("powerLimit")
	if b.rotor && b.perf.Has("powerNeeded") && b.perf.Has("powerLimit") && needed.Above(limit) {
		add("power-exceeded", "Stop: the hover needs %s; the limit of the day is %s. Less weight, or another day.",
			b.power(needed), b.power(limit))
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
	b.add("runway", where+".", "runway data")
	b.add("wind", windWords(b.wind, b.parts, b.gusty), "weather report", "wind components")

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
	b.add("configuration", strings.Join(configured, ", ")+".", sources...)
	speeds := speedWords(b.typ.Speeds)
	if b.school.Has("decisionKt") {
		speeds = append(speeds, fmt.Sprintf("decision speed %s knots", b.school.Value("decisionKt")))
		handbook += ", school"
	}
	b.add("speeds", sentence(strings.Join(speeds, ", ")), handbook)
	b.performance()
	b.points()
}

// performance is the sentence on what is needed and what there is.
func (b *brief) performance() {
	var distances []string
	if b.runs() {
		word := "ground run %s m"
		if b.rotor {
			word = "%s m to clear the fence"
		}
		distances = append(distances, fmt.Sprintf(word, b.perf.Value("groundRunM")))
	}
	if b.perf.Has("over50FtM") {
		distances = append(distances, fmt.Sprintf("%s m to 50 feet", b.perf.Value("over50FtM")))
	}
	clear := strings.Join(distances, ", ")
	if !b.rotor {
		if clear != "" {
			b.add("performance", sentence(clear+fmt.Sprintf(", %s m available", b.runway.Value("availableM"))),
				"performance data", "runway data")
		}
		return
	}
	needed, limit := b.perf.Has("powerNeeded"), b.perf.Has("powerLimit")
	needs, most := b.power(b.perf.Value("powerNeeded")), b.power(b.perf.Value("powerLimit"))
	said := ""
	switch {
	case needed && limit:
		said = fmt.Sprintf("the hover needs %s, the limit of the day is %s", needs, most)
	case limit:
		said = "the limit of the day is " + most
	case needed:
		said = "the hover needs " + needs
	}
	switch {
	case said != "" && clear != "":
		b.add("performance", sentence(said+"; "+clear), "power table", "performance data")
	case said != "":
		b.add("performance", sentence(said), "power table")
	case clear != "":
		b.add("performance", sentence(clear), "performance data")
	}
}

// power is a power in the unit of the type's table.
func (b *brief) power(v quantity.Value) string {
	if b.typ.Power == nil {
		return v.String()
	}
	return v.String() + " " + b.typ.Power.Unit
}

// decides is the point that decides, as it is named in every sentence; empty where
// no run was given, or none that fits.
func (b *brief) decides() string {
	if !b.fits() {
		return ""
	}
	at := fmt.Sprintf("%.0f m", b.flyingBy)
	if mark := b.runway.Text("landmark"); mark != "" {
		at += ", " + mark
	}
	return at
}

// points are the point that decides, and what is seen at half of the run. A run
// that does not fit has none.
func (b *brief) points() {
	if b.rotor {
		b.add("flying-by", "No climb by the edge of the pad means down again, straight ahead.", "school")
		return
	}
	if !b.fits() {
		return
	}
	closed, _ := b.stop()
	liftOff, rotates := b.speed("rotate")
	head := b.parts.head.Float()
	flying := fmt.Sprintf("Flying by %s, or %s at %.0f m.", b.decides(), closed, b.flyingBy)
	if rotates && head < float64(liftOff) {
		b.add("flying-by",
			fmt.Sprintf("%s On the way, at half of the run, %.0f m, %.0f knots show that it goes as computed.", flying,
				b.perf.Value("groundRunM").Float()/2, math.Ceil(halfWay(float64(liftOff), head).Float())),
			"half-way speed", "performance data", "school")
		return
	}
	b.add("flying-by", flying, "performance data", "school")
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
	doubt := "Any doubt while the wheels are down: stop."
	switch {
	case b.rotor:
		doubt = "Any doubt before lift-off: stay down."
	case b.decides() != "":
		doubt = fmt.Sprintf("Any doubt before %s: stop.", b.decides())
	}
	flies, reads := b.school.Text("flies"), b.school.Text("troubleshoots")
	switch {
	case flies != "" && reads != "":
		b.add("who", fmt.Sprintf("If anything happens: flies, %s; reads the list, %s. %s", flies, reads, doubt),
			"school")
	case flies != "" || reads != "":
		b.add("who",
			fmt.Sprintf("If anything happens: %s flies first, the list comes after. %s", cmp.Or(flies, reads), doubt),
			"school")
	default:
		b.add("who", "If anything happens: fly first, then the list. "+doubt, "school")
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

// unsaid are the numbers of a sentence that stand nowhere in what was said, in
// figures or in words. Zeros in front do not matter.
func unsaid(sentence, said string) []string {
	heard := map[string]bool{}
	plain := func(n string) string { return cmp.Or(strings.TrimLeft(n, "0"), "0") }
	for _, n := range append(figures(said), spoken(said)...) {
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
	if field := b.runway.Text("fieldAhead"); field != "" {
		ahead += ", " + field
	}
	turn := ""
	if side := b.runway.Text("turnSide"); side != "" {
		turn = " to the " + side
	}
	glide, _ := b.speed("glide", "autorotation")
	if b.rotor {
		b.add("before-rotation", "Engine failure in the hover: level, pedal, cushion with what the rotor holds.",
			t.Source)
		b.add("no-runway-low", "Low and slow: lever down only as height allows, flare late, level, cushion.", t.Source)
		into := cmp.Or(b.runway.Text("fieldAhead"), "the clear ground ahead")
		b.add("no-runway-high",
			fmt.Sprintf("With height: lever down at once, %d knots, into the wind%s, %s.", glide, turn, into), t.Source)
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
	before := "failure before rotation"
	if b.school.Has("decisionKt") {
		before = fmt.Sprintf("any fault below the decision speed of %s knots, or a failure before rotation",
			b.school.Value("decisionKt"))
	}
	b.add("before-rotation",
		sentence(fmt.Sprintf(before+": %s, brakes, straight ahead, %s if it will not stop", closed, off)), t.Source)
	b.add("runway-left",
		fmt.Sprintf("Airborne with runway left: nose down, land on what is left of the %s m, brakes.", available),
		"runway data")
	if t.Engines > 1 {
		b.oneOfTwo(closed, cmp.Or(b.runway.Text("fieldAhead"), "ahead"))
		return
	}
	if !b.school.Has("turnBackFt") {
		b.add("no-runway-low",
			fmt.Sprintf("No runway left: %d knots, %s. No turn back from this runway.", glide, ahead), t.Source,
			"school")
		b.add("no-runway-high",
			fmt.Sprintf("Higher: %d knots, a field into the wind, the list from memory, then the call.", glide),
			t.Source)
		return
	}
	height := b.school.Value("turnBackFt")
	b.add("no-runway-low",
		fmt.Sprintf("No runway left below %s feet, %s feet on the altimeter: %d knots, %s.", height,
			height.Add(b.Value("elevationFt")), glide, ahead), "school", "elevation", t.Source)
	high := fmt.Sprintf("Above %s feet a turn back may be tried%s, into the wind, %d knots", height, turn, glide)
	if climb, known := b.speed("best-rate"); known {
		high += fmt.Sprintf("; climb at %d knots until there", climb)
	}
	b.add("no-runway-high", high+".", "school", t.Source)
}

// oneOfTwo is the failure of one engine of two.
func (b *brief) oneOfTwo(closed, ahead string) {
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
	b.add("no-runway-low",
		fmt.Sprintf("No runway left, below %d knots%s: %s, land %s; below the minimum control speed of %d knots the "+
			"rudder cannot hold it.", blue, gear, closed, ahead, minimum), t.Source)
	b.add("no-runway-high",
		fmt.Sprintf("No runway left, above %d knots: power up, %s, identify with the dead foot, verify with %s, %s; "+
			"%d knots, blue line, five degrees towards the live engine.", blue, up, lever, shut, blue), t.Source)
}

// wholeKnots is a component as it is spoken.
func wholeKnots(v quantity.Value) quantity.Value { return v.Abs().At(0) }

func windWords(wind form.Record, parts, gusty components) string {
	speed := wind.Value("speedKt")
	if speed.Sign() == 0 && wind.Value("gustKt").Sign() == 0 {
		return "Wind calm."
	}
	from := "variable"
	if wind.Has("directionDeg") {
		degrees := int(wind.Value("directionDeg").Float())
		if degrees == 0 { // north is said so
			degrees = 360
		}
		from = fmt.Sprintf("%03d degrees", degrees)
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
	if steady := wholeKnots(parts.cross); steady.Sign() != 0 {
		cross = fmt.Sprintf("crosswind %s knots from the %s", steady, side(parts.cross))
		if gusts := wholeKnots(gusty.cross); gusts.Above(steady) {
			cross += fmt.Sprintf(", %s in gusts", gusts)
		}
	}
	return fmt.Sprintf("%s: %s %s knots, %s.", words, along, wholeKnots(parts.head), cross)
}

func densityWords(in input) string {
	if in.Has("densityAltitudeFt") {
		return fmt.Sprintf("a density altitude of %s feet", in.Value("densityAltitudeFt"))
	}
	return fmt.Sprintf("%s feet", in.Value("elevationFt"))
}

func speedWords(speeds []aircraft.Speed) []string {
	var said []string
	for _, s := range speeds {
		switch s.ID {
		case "rotate", "best-angle", "best-rate", "minimum-control", "blue-line", "climb", "autorotation", "lift-off":
			said = append(said, fmt.Sprintf("%s %d knots", s.Label, s.Knots))
		}
	}
	return said
}
