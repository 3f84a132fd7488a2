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
// its numbers. The point by which to be flying is half of the run available,
// with the speed of half-way-speed; the turn-back height is the school's.
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
		{Name: "school", Label: "school", Kind: form.Inner, Each: []form.Field{number("turnBackFt", "turn back from", "ft", 0, nullable),
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

func runBrief(in input) (form.Object, []Advice, error) {
	t := in.typ
	helicopter := t.Class == "helicopter"
	runway, wind, perf, school := in.Sub("runway"), in.Sub("wind"), in.Sub("performance"), in.Sub("school")
	speed := func(id string) (int, bool) {
		for _, s := range t.Speeds {
			if s.ID == id {
				return s.Knots, true
			}
		}
		return 0, false
	}
	available, run := runway.Value("availableM"), perf.Value("groundRunM")
	if available.Sign() == 0 {
		return nil, nil, form.Bad("runway.availableM", "must be above zero")
	}
	gust := wind.Value("speedKt")
	if wind.Has("gustKt") {
		if gust = wind.Value("gustKt"); gust.Below(wind.Value("speedKt")) {
			return nil, nil, form.Bad("wind.gustKt", "may not be below speedKt: %s below %s", gust, wind.Value("speedKt"))
		}
	}
	parts := part(wind.Has("directionDeg") || wind.Value("speedKt").Sign() == 0, wind.Value("directionDeg").Float()-runway.Value("headingDegMagnetic").Float(), wind.Value("speedKt").Float())
	b := &brief{}
	handbook, here := t.Source, "runway data"

	where := fmt.Sprintf("Runway %s, %s m available", runway.Text("name"), available)
	if surface := runway.Text("surface"); surface != "" {
		where += ", " + surface
	}
	if helicopter {
		where = fmt.Sprintf("Lift-off towards %s, %s m clear ahead", runway.Text("name"), available)
	}
	b.say("runway", where+".", here)
	b.say("wind", windWords(wind, parts), "weather report", "wind components")
	switch {
	case helicopter:
		b.say("configuration", "Governor on, frictions as set, doors latched, warning lamps out.", handbook)
	case perf.Has("flapsDeg"):
		b.say("configuration", fmt.Sprintf("Flaps %s degrees, trim set, mixture for %s.", perf.Value("flapsDeg"), densityWords(in)), handbook, "density altitude")
	default:
		b.say("configuration", fmt.Sprintf("Flaps and trim for take-off, mixture for %s.", densityWords(in)), handbook, "density altitude")
	}
	b.say("speeds", speedWords(t.Speeds), handbook)
	b.performance(perf, available, helicopter)
	liftOff, hasLiftOff := speed("rotate")
	switch half := available.Float() / 2; {
	case helicopter:
		b.say("flying-by", "No climb by the edge of the pad means down again, straight ahead.", "school")
	case hasLiftOff && parts.head.Float() < float64(liftOff):
		b.say("flying-by", fmt.Sprintf("At half the runway, %.0f m, I see %s knots; flying by %.0f m, or the throttle is closed.",
			half, halfWay(float64(liftOff), parts.head.Float()), math.Min(available.Float(), math.Max(half, run.Float()*1.25))), "half-way speed", here, "performance data")
	default:
		b.say("flying-by", fmt.Sprintf("Flying by %.0f m, or the throttle is closed.", half), here)
	}
	b.failures(in, available, helicopter)
	flies, shoots := school.Text("flies"), school.Text("troubleshoots")
	if flies == "" {
		flies = "you"
	}
	if shoots == "" {
		shoots = "I"
	}
	b.say("who", fmt.Sprintf("If anything happens, %s fly and %s read the list. Any doubt before the half-way point: stop.", flies, shoots), "school")

	var advice []Advice
	if run.Float()*1.25 > available.Float() && !helicopter {
		advice = append(advice, Advice{"little-to-spare", fmt.Sprintf("The ground run of %s m with a quarter more is longer than the %s m available.", run, available)})
	}
	if t.Winds != nil {
		limit := quantity.Scaled(int64(t.Winds.CrosswindKt), 0)
		if gusty := part(wind.Has("directionDeg"), wind.Value("directionDeg").Float()-runway.Value("headingDegMagnetic").Float(), gust.Float()); gusty.cross.Abs().Above(limit) {
			advice = append(advice, Advice{"crosswind", fmt.Sprintf("The gust has %s kt across; the type's limit is %s kt.", gusty.cross.Abs(), limit)})
		}
	}
	needed, limit := perf.Value("powerNeeded"), perf.Value("powerLimit")
	if helicopter && perf.Has("powerNeeded") && perf.Has("powerLimit") && needed.Above(limit) {
		advice = append(advice, Advice{"power-exceeded", fmt.Sprintf("The hover needs %s; the limit of the day is %s. Less weight, or another day.", needed, limit)})
	}
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
type brief struct{ sentences []BriefSentence }

func (b *brief) say(element, text string, sources ...string) {
	b.sentences = append(b.sentences, BriefSentence{Element: element, Text: text, Sources: sources})
}

// performance is the sentence on what is needed and what there is.
func (b *brief) performance(perf form.Record, available quantity.Value, helicopter bool) {
	run, over := perf.Value("groundRunM"), ""
	if perf.Has("over50FtM") {
		over = fmt.Sprintf(", %s m to 50 feet", perf.Value("over50FtM"))
	}
	margin := quantity.Value{}.Add(available).Sub(run)
	switch needed, limit := perf.Value("powerNeeded"), perf.Value("powerLimit"); {
	case helicopter && perf.Has("powerNeeded") && perf.Has("powerLimit"):
		b.say("performance", fmt.Sprintf("The hover needs %s, the limit of the day is %s; %s m to clear the fence%s.", needed, limit, run, over), "power table", "performance data")
	case helicopter:
		b.say("performance", fmt.Sprintf("Power for the hover and the limit of the day: read from the table and said before lift-off; %s m to clear the fence%s.", run, over), "performance data")
	case margin.Sign() < 0:
		b.say("performance", fmt.Sprintf("Ground run %s m%s, %s m available: not from this runway.", run, over, available), "performance data", "runway data")
	default:
		b.say("performance", fmt.Sprintf("Ground run %s m%s, %s m to spare.", run, over, margin), "performance data", "runway data")
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
func (b *brief) failures(in input, available quantity.Value, helicopter bool) {
	t, school := in.typ, in.Sub("school")
	ahead := school.Text("ahead")
	if ahead == "" {
		ahead = "straight ahead, small turns only"
	}
	elevation := in.Value("elevationFt")
	glide, climb := 0, 0
	minimum, blue := 0, 0
	for _, s := range t.Speeds {
		switch s.ID {
		case "glide", "autorotation":
			glide = s.Knots
		case "best-rate":
			climb = s.Knots
		case "minimum-control":
			minimum = s.Knots
		case "blue-line":
			blue = s.Knots
		}
	}
	if helicopter {
		b.say("before-rotation", "Engine failure in the hover: level, pedal, cushion with what the rotor holds.", t.Source)
		b.say("no-runway-low", "Low and slow: lever down only as height allows, flare late, level, cushion.", t.Source)
		b.say("no-runway-high", fmt.Sprintf("With height: lever down at once, %d knots, into the wind, field ahead.", glide), t.Source)
		return
	}
	b.say("before-rotation", "Failure before rotation: throttle closed, brakes, straight ahead, fuel and ignition off if it will not stop.", t.Source)
	b.say("runway-left", fmt.Sprintf("Airborne with runway left: nose down, land on what is left of the %s m, brakes.", available), "runway data")
	if t.Engines > 1 {
		b.say("no-runway-low", fmt.Sprintf("No runway left, below %d knots or gear down: both throttles closed, land ahead; below the minimum control speed of %d the rudder cannot hold it.", blue, minimum), t.Source)
		b.say("no-runway-high", fmt.Sprintf("Above it: power up, gear and flaps up, identify with the dead foot, verify with its throttle, feather; %d knots, blue line, five degrees towards the live engine.", blue), t.Source)
		return
	}
	if !school.Has("turnBackFt") {
		b.say("no-runway-low", fmt.Sprintf("No runway left: %d knots, %s. No turn back from this runway.", glide, ahead), t.Source, "school")
		b.say("no-runway-high", fmt.Sprintf("Higher: %d knots, a field into the wind, the list from memory, then the call.", glide), t.Source)
		return
	}
	height := school.Value("turnBackFt")
	b.say("no-runway-low", fmt.Sprintf("No runway left below %s feet, %s on the altimeter: %d knots, %s.", height, height.Add(elevation), glide, ahead), "school", "elevation", t.Source)
	b.say("no-runway-high", fmt.Sprintf("Above %s feet a turn back may be tried, into the wind, %d knots; climb at %d until there.", height, glide, climb), "school", t.Source)
}

func windWords(wind form.Record, parts components) string {
	speed := wind.Value("speedKt")
	if speed.Sign() == 0 {
		return "Wind calm."
	}
	from := "variable"
	if wind.Has("directionDeg") {
		from = fmt.Sprintf("%03d degrees", int(wind.Value("directionDeg").Float()))
	}
	words := fmt.Sprintf("Wind %s %s knots", from, speed)
	if wind.Has("gustKt") {
		words += fmt.Sprintf(", gusts %s", wind.Value("gustKt"))
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
		cross = fmt.Sprintf("crosswind %s from the %s", parts.cross.Abs(), side(parts.cross))
	}
	return fmt.Sprintf("%s: %s %s, %s.", words, along, parts.head.Abs(), cross)
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
			said = append(said, fmt.Sprintf("%s %d", s.Label, s.Knots))
		}
	}
	return sentence(strings.Join(said, ", ") + " knots")
}
