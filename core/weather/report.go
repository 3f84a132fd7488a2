package weather

import (
	"cmp"
	"strconv"
	"strings"

	"jetprimer/core/quantity"
)

// Report is what an aerodrome's weather report says, in the international form
// (WMO No. 306, FM 15). What is not said is nil or empty; what is not
// understood is kept in Unknown.
type Report struct {
	Station string `json:"station"`
	Day     *int   `json:"day"`
	// Time is UTC, written hh:mm.
	Time      string `json:"time"`
	Automatic bool   `json:"automatic"`
	Wind      *Wind  `json:"wind"`
	// VisibilityM is in metres, 10000 meaning that and more.
	VisibilityM *int `json:"visibilityM"`
	Cavok       bool `json:"cavok"`
	// RunwayRanges is how far one sees along each runway, the lowest that was said.
	RunwayRanges []RunwayRange `json:"runwayRanges,omitempty"`
	Weather      []string      `json:"weather"`
	// Recent is weather that has passed since the last report, WindShear the
	// runways of which it is reported.
	Recent    []string `json:"recent,omitempty"`
	WindShear []string `json:"windShear,omitempty"`
	Clouds    []Cloud  `json:"clouds"`
	// CeilingFt is the lowest broken, overcast or obscured layer above ground.
	CeilingFt *int `json:"ceilingFt"`
	OATC      *int `json:"oatC"`
	DewPointC *int `json:"dewPointC"`
	// QNHHPa is in hPa to one decimal, AltimeterInHg in inHg to two; the one
	// that is not said is computed, 1 inHg = 33.8638866667 hPa.
	QNHHPa        *quantity.Value `json:"qnhHPa"`
	AltimeterInHg *quantity.Value `json:"altimeterInHg"`
	// Trend and Remarks are kept as they were written.
	Trend   string   `json:"trend"`
	Remarks string   `json:"remarks"`
	Unknown []string `json:"unknown"`
}

// RunwayRange is how far one sees along a runway, in metres. Beyond is more or less
// where the true value lies outside what is measured; Tendency is up, down or none.
type RunwayRange struct {
	Runway   string `json:"runway"`
	RangeM   int    `json:"rangeM"`
	Beyond   string `json:"beyond"`
	Tendency string `json:"tendency"`
}

// Wind of a report, in whole knots and degrees true.
type Wind struct {
	// DirectionDeg is where it comes from; nil when it is variable, calm or not
	// said.
	DirectionDeg *int `json:"directionDeg"`
	SpeedKt      int  `json:"speedKt"`
	GustKt       *int `json:"gustKt"`
	Variable     bool `json:"variable"`
	Calm         bool `json:"calm"`
	// FromDeg and ToDeg bound a direction that varies.
	FromDeg *int `json:"fromDeg"`
	ToDeg   *int `json:"toDeg"`
}

// Cloud is one layer: its amount and its height above ground.
type Cloud struct {
	Amount string `json:"amount"`
	BaseFt *int   `json:"baseFt"`
	Kind   string `json:"kind"`
}

// The pressures at sea level, in hPa, that are taken for one.
const (
	LowestQNH  = 850
	HighestQNH = 1090
)

const (
	maxGroups     = 200
	metresPerMile = 1609.344
	metresPerFoot = 0.3048
	knotsPerMPS   = 1.943844 // 3600 / 1852
)

// ParseReport reads a weather report. Nothing in it is fatal: what is not
// understood is listed.
func ParseReport(text string) Report {
	r := Report{
		RunwayRanges: []RunwayRange{}, Weather: []string{}, Recent: []string{}, WindShear: []string{},
		Clouds: []Cloud{}, Unknown: []string{},
	}
	groups := strings.Fields(strings.ToUpper(strings.TrimRight(strings.TrimSpace(text), "=")))
	if len(groups) > maxGroups {
		groups = groups[:maxGroups]
	}
	p := reportParser{Report: &r}
	for i := 0; i < len(groups); i++ {
		g := groups[i]
		switch {
		case g == "RMK":
			r.Remarks = strings.Join(groups[i+1:], " ")
			p.finish()
			return r
		case beginsForecast(g):
			end := i + 1
			for end < len(groups) && groups[end] != "RMK" {
				end++
			}
			r.Trend = strings.Join(groups[i:end], " ")
			i = end - 1
		case p.mixedMiles(groups, i):
			i++
		case g == "WS":
			taken := p.windShear(groups[i+1:])
			if taken == 0 {
				r.Unknown = append(r.Unknown, g)
			}
			i += taken
		case !p.group(g):
			r.Unknown = append(r.Unknown, g)
		}
	}
	p.finish()
	return r
}

// beginsForecast: what follows is expected, and no part of what was observed.
func beginsForecast(g string) bool {
	switch g {
	case "NOSIG", "BECMG", "TEMPO", "INTER":
		return true
	}
	for _, word := range []string{"PROB", "FM"} {
		at := group{rest: g}
		if at.may(word) != "" {
			at.digits(2, 6)
			return at.whole()
		}
	}
	return false
}

type reportParser struct{ *Report }

// group takes one group in, and reports whether it was understood.
func (p reportParser) group(g string) bool {
	switch {
	case g == "COR":
		return true
	case g == "METAR" || g == "SPECI":
		return p.Time == ""
	case g == "AUTO":
		p.Automatic = true
		return true
	case p.Station == "" && isStation(g):
		p.Station = g
		return true
	case g == "CAVOK":
		far := 10000
		p.Cavok, p.VisibilityM = true, &far
		return true
	}
	return p.Time == "" && p.moment(g) || p.Wind == nil && p.wind(g) || p.varying(g) || p.runwayRange(g) ||
		p.VisibilityM == nil && p.visibility(g) || isMissing(g) || p.sky(g)
}

// runwayRange takes how far one sees along a runway; of several of one runway the
// lowest stays.
func (p reportParser) runwayRange(g string) bool {
	r, ok := runwayRangeOf(g)
	if !ok {
		return false
	}
	for i, known := range p.RunwayRanges {
		if known.Runway == r.Runway {
			if r.RangeM < known.RangeM {
				p.RunwayRanges[i] = r
			}
			return true
		}
	}
	p.RunwayRanges = append(p.RunwayRanges, r)
	return true
}

// windShear takes the runways behind WS, and reports how many groups they are.
func (p reportParser) windShear(groups []string) int {
	switch {
	case len(groups) > 1 && groups[0] == "ALL" && groups[1] == "RWY":
		p.WindShear = append(p.WindShear, "all")
		return 2
	case len(groups) > 1 && groups[0] == "RWY" && isRunway(groups[1]):
		p.WindShear = append(p.WindShear, groups[1])
		return 2
	case len(groups) > 0:
		name := strings.TrimPrefix(strings.TrimPrefix(groups[0], "RWY"), "R")
		if isRunway(name) && name != groups[0] {
			p.WindShear = append(p.WindShear, name)
			return 1
		}
	}
	return 0
}

func (p reportParser) varying(g string) bool {
	from, to, ok := varyingOf(g)
	if !ok || p.Wind == nil || p.Wind.FromDeg != nil || number(from) > 360 || number(to) > 360 {
		return false
	}
	low, high := number(from), number(to)
	p.Wind.FromDeg, p.Wind.ToDeg = &low, &high
	return true
}

func (p reportParser) visibility(g string) bool {
	if metres, ok := metresOf(g); ok {
		m := number(metres)
		if m == 9999 {
			m = 10000
		}
		p.VisibilityM = &m
		return true
	}
	return p.miles(0, g)
}

// sky takes the groups from weather on.
func (p reportParser) sky(g string) bool {
	if amount, base, kind, ok := cloudOf(g); ok {
		c := Cloud{Amount: strings.Trim(amount, "/"), Kind: strings.Trim(kind, "/")}
		if base != "///" {
			feet := number(base) * 100
			c.BaseFt = &feet
		}
		p.Clouds = append(p.Clouds, c)
		return true
	}
	if air, dew, ok := temperaturesOf(g); ok && p.OATC == nil {
		if air != "" {
			oat := celsius(air)
			p.OATC = &oat
		}
		if dew != "" {
			point := celsius(dew)
			p.DewPointC = &point
		}
		return true
	}
	if digits, ok := pressureOf("Q", g); ok && p.QNHHPa == nil {
		n := number(digits)
		if n < LowestQNH || n > HighestQNH {
			return false
		}
		v := quantity.Scaled(int64(n)*10, 1)
		p.QNHHPa = &v
		return true
	}
	if digits, ok := pressureOf("A", g); ok && p.AltimeterInHg == nil {
		n := number(digits)
		if n < 2500 || n > 3300 {
			return false
		}
		v := quantity.Scaled(int64(n), 2)
		p.AltimeterInHg = &v
		return true
	}
	switch {
	case g == "SKC" || g == "CLR" || g == "NSC" || g == "NCD":
		p.Clouds = append(p.Clouds, Cloud{Amount: g})
	case g == "NSW" || len(g) > 1 && isWeather(g):
		p.Weather = append(p.Weather, g)
	case len(g) > 3 && strings.HasPrefix(g, "RE") && isWeather(g[2:]):
		p.Recent = append(p.Recent, g[2:])
	default:
		return false
	}
	return true
}

func (p reportParser) moment(g string) bool {
	days, hour, minute, ok := momentOf(g)
	day := number(days)
	if !ok || day < 1 || day > 31 || number(hour) > 23 || number(minute) > 59 {
		return false
	}
	p.Day, p.Time = &day, hour+":"+minute
	return true
}

func (p reportParser) wind(g string) bool {
	from, speed, gust, unit, ok := windOf(g)
	if !ok || from != "VRB" && number(from) > 360 {
		return false
	}
	if speed == "" { // said to be missing
		return true
	}
	knots := func(text string) int {
		n := number(text)
		if unit == "MPS" {
			n = int(float64(n)*knotsPerMPS + 0.5)
		}
		return n
	}
	w := Wind{SpeedKt: knots(speed), Variable: from == "VRB"}
	if gust != "" {
		gusts := knots(gust)
		w.GustKt = &gusts
	}
	if !w.Variable {
		w.Calm = w.SpeedKt == 0 && w.GustKt == nil
		if direction := number(from); !w.Calm && from != "" {
			w.DirectionDeg = &direction
		}
	}
	p.Wind = &w
	return true
}

// mixedMiles takes a visibility such as 1 1/2SM, which is two groups.
func (p reportParser) mixedMiles(groups []string, i int) bool {
	if p.VisibilityM != nil || p.Wind == nil || i+1 >= len(groups) || len(groups[i]) != 1 || groups[i][0] < '1' ||
		groups[i][0] > '9' {
		return false
	}
	beyond, _, part, _, ok := milesOf(groups[i+1])
	return ok && part != "" && beyond == "" && p.miles(float64(groups[i][0]-'0'), groups[i+1])
}

func (p reportParser) miles(miles float64, g string) bool {
	beyond, whole, part, of, ok := milesOf(g)
	if !ok || part != "" && number(of) == 0 {
		return false
	}
	if part != "" {
		miles += float64(number(part)) / float64(number(of))
	} else {
		miles += float64(number(whole))
	}
	metres := int(miles*metresPerMile + 0.5)
	if metres > 10000 || beyond == "P" && metres > 9000 {
		metres = 10000
	}
	p.VisibilityM = &metres
	return true
}

// finish computes what follows from the rest.
func (p reportParser) finish() {
	for _, c := range p.Clouds {
		covers := c.Amount == "BKN" || c.Amount == "OVC" || c.Amount == "VV"
		if covers && c.BaseFt != nil && (p.CeilingFt == nil || *c.BaseFt < *p.CeilingFt) {
			base := *c.BaseFt
			p.CeilingFt = &base
		}
	}
	switch {
	case p.QNHHPa == nil && p.AltimeterInHg != nil:
		v := quantity.Hectopascals(*p.AltimeterInHg, 1)
		p.QNHHPa = &v
	case p.AltimeterInHg == nil && p.QNHHPa != nil:
		v, _ := quantity.Units{Pressure: "inHg"}.Show(*p.QNHHPa, "hPa")
		p.AltimeterInHg = &v
	}
}

// number reads digits; what is none is 0.
func number(digits string) int {
	n, _ := strconv.Atoi(digits)
	return n
}

func celsius(text string) int {
	if minus, below := strings.CutPrefix(text, "M"); below {
		return -number(minus)
	}
	return number(text)
}

// weatherWords are the kinds of weather that are said in a word or two; others
// are kept as they are written.
var weatherWords = map[string]string{"-RA": "light rain", "RA": "rain", "+RA": "heavy rain", "DZ": "drizzle",
	"-DZ": "light drizzle", "BR": "mist", "FG": "fog", "HZ": "haze",
	"-SN": "light snow", "SN": "snow", "TS": "thunderstorm", "SHRA": "rain showers", "-SHRA": "light showers"}

// Sky is visibility, weather and cloud in a line.
func (r Report) Sky() string {
	if r.Cavok {
		return "no cloud below 5000 ft, visibility 10 km or more"
	}
	var s []string
	switch {
	case r.VisibilityM == nil:
	case *r.VisibilityM >= 10000:
		s = append(s, "visibility 10 km or more")
	default:
		s = append(s, "visibility "+strconv.Itoa(*r.VisibilityM)+" m")
	}
	for _, v := range r.RunwayRanges {
		s = append(s, "runway "+v.Runway+" "+strconv.Itoa(v.RangeM)+" m")
	}
	for _, w := range r.Weather {
		s = append(s, cmp.Or(weatherWords[w], w))
	}
	for _, c := range r.Clouds {
		if c.BaseFt != nil {
			s = append(s, amounts[c.Amount]+" "+strconv.Itoa(*c.BaseFt)+" ft")
		}
	}
	return strings.Join(s, ", ")
}
