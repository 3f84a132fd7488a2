package weather

import "strings"

// group takes one group of a report apart, from its left end; it is spent when
// something wanted was not there.
type group struct {
	rest  string
	spent bool
}

// digits takes at least low and at most high digits.
func (g *group) digits(low, high int) string {
	n := 0
	for n < len(g.rest) && n < high && g.rest[n] >= '0' && g.rest[n] <= '9' {
		n++
	}
	if n < low {
		g.spent = true
	}
	return g.take(n)
}

func (g *group) take(n int) string {
	taken := g.rest[:n]
	g.rest = g.rest[n:]
	return taken
}

// may takes the first of the words that is there; none is allowed.
func (g *group) may(words ...string) string {
	for _, w := range words {
		if strings.HasPrefix(g.rest, w) {
			return g.take(len(w))
		}
	}
	return ""
}

// must takes one of the words.
func (g *group) must(words ...string) string {
	taken := g.may(words...)
	g.spent = g.spent || taken == ""
	return taken
}

// whole reports whether everything wanted was there and nothing is left.
func (g *group) whole() bool { return !g.spent && g.rest == "" }

// isStation: four letters and digits, a letter first.
func isStation(text string) bool {
	if len(text) != 4 || text[0] < 'A' || text[0] > 'Z' {
		return false
	}
	for i := range len(text) {
		if (text[i] < 'A' || text[i] > 'Z') && (text[i] < '0' || text[i] > '9') {
			return false
		}
	}
	return true
}

// momentOf reads day, hour and minute: 241150Z.
func momentOf(text string) (day, hour, minute string, ok bool) {
	g := group{rest: text}
	day, hour, minute = g.digits(2, 2), g.digits(2, 2), g.digits(2, 2)
	g.must("Z")
	return day, hour, minute, g.whole()
}

// windOf reads direction, speed, gust and unit: 21014G24KT, VRB02MPS. Slashes
// stand for what is missing: /////KT, ///05KT.
func windOf(text string) (from, speed, gust, unit string, ok bool) {
	g := group{rest: text}
	if from = g.may("VRB"); from == "" && g.may("///") == "" {
		from = g.digits(3, 3)
	}
	if g.may("//") == "" {
		speed = g.digits(2, 3)
	}
	if g.may("G") != "" {
		gust = g.digits(2, 3)
	}
	unit = g.must("KT", "MPS")
	return from, speed, gust, unit, g.whole()
}

// varyingOf reads the bounds of a direction: 180V250.
func varyingOf(text string) (from, to string, ok bool) {
	g := group{rest: text}
	from = g.digits(3, 3)
	g.must("V")
	to = g.digits(3, 3)
	return from, to, g.whole()
}

// metresOf reads a visibility in metres: 9999, 4000NDV.
func metresOf(text string) (metres string, ok bool) {
	g := group{rest: text}
	metres = g.digits(4, 4)
	g.may("NDV")
	return metres, g.whole()
}

// milesOf reads a visibility in miles: 10SM, 1/2SM, P6SM. beyond is P for more
// than that, M for less.
func milesOf(text string) (beyond, whole, part, of string, ok bool) {
	g := group{rest: text}
	beyond = g.may("P", "M")
	whole = g.digits(1, 2)
	if len(whole) == 1 && g.may("/") != "" {
		part, whole = whole, ""
		of = g.digits(1, 2)
	}
	g.must("SM")
	return beyond, whole, part, of, g.whole()
}

// isWeather: intensity, descriptors and phenomena, in that order.
func isWeather(text string) bool {
	g := group{rest: text}
	g.may("+", "-", "VC")
	for g.may("MI", "PR", "BC", "DR", "BL", "SH", "TS", "FZ") != "" {
	}
	for g.may("DZ", "RA", "SN", "SG", "IC", "PL", "GR", "GS", "UP", "BR", "FG", "FU", "VA", "DU", "SA", "HZ", "PO",
		"SQ", "FC", "SS", "DS") != "" {
	}
	return g.whole()
}

// cloudOf reads a layer: BKN022CB, OVC///.
func cloudOf(text string) (amount, base, kind string, ok bool) {
	g := group{rest: text}
	amount = g.must("FEW", "SCT", "BKN", "OVC", "VV", "///")
	if base = g.may("///"); base == "" {
		base = g.digits(3, 3)
	}
	kind = g.may("CB", "TCU", "///")
	return amount, base, kind, g.whole()
}

// temperaturesOf reads air and dew point: 09/M06, 12/, 22///. Slashes stand for
// what is missing.
func temperaturesOf(text string) (air, dew string, ok bool) {
	g := group{rest: text}
	if g.may("//") == "" {
		air = g.may("M") + g.digits(2, 2)
	}
	g.must("/")
	if g.rest != "" && g.may("//") == "" {
		dew = g.may("M") + g.digits(2, 2)
	}
	return air, dew, g.whole()
}

// isRunway: two digits, and a letter where there are several beside each other.
func isRunway(text string) bool {
	g := group{rest: text}
	n := number(g.digits(2, 2))
	g.may("L", "C", "R")
	return g.whole() && n >= 1 && n <= 36
}

// runwayRangeOf reads a runway's visual range: R27/0600U, R09L/P2000N,
// R27/0400V0800FT/D; of two values the lower.
func runwayRangeOf(text string) (RunwayRange, bool) {
	runway, rest, parted := strings.Cut(strings.TrimPrefix(text, "R"), "/")
	if !parted || !strings.HasPrefix(text, "R") || !isRunway(runway) {
		return RunwayRange{}, false
	}
	g := group{rest: rest}
	beyond := map[string]string{"P": "more", "M": "less"}
	r := RunwayRange{Runway: runway, Beyond: beyond[g.may("P", "M")]}
	r.RangeM = number(g.digits(4, 4))
	if g.may("V") != "" {
		other := beyond[g.may("P", "M")]
		if n := number(g.digits(4, 4)); n < r.RangeM {
			r.RangeM, r.Beyond = n, other
		}
	}
	if g.may("FT") != "" {
		r.RangeM = int(float64(r.RangeM)*metresPerFoot + 0.5)
	}
	g.may("/")
	r.Tendency = map[string]string{"U": "up", "D": "down", "N": "none"}[g.may("U", "D", "N")]
	return r, g.whole()
}

// isMissing: slashes, alone or behind a letter of pressure, for what was not
// measured.
func isMissing(text string) bool {
	text = strings.TrimPrefix(strings.TrimPrefix(text, "Q"), "A")
	return len(text) > 1 && strings.Trim(text, "/") == ""
}

// pressureOf reads a pressure behind its letter: Q1009, A2992.
func pressureOf(letter, text string) (digits string, ok bool) {
	g := group{rest: text}
	g.must(letter)
	digits = g.digits(4, 4)
	return digits, g.whole()
}
