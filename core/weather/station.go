package weather

import (
	"fmt"
	"hash/fnv"
	"math"
	"strings"
	"time"
)

// Aerodrome is a place to fly from: its runways, and the climate that the
// stand-in of a weather station makes its reports of.
type Aerodrome struct {
	ID               string   `json:"id"`
	Name             string   `json:"name"`
	ElevationFt      int      `json:"elevationFt"`
	VariationDegEast float64  `json:"variationDegEast"`
	Runways          []Runway `json:"runways"`
	Climate          Climate  `json:"climate"`
}

// Runway is one direction of a runway.
type Runway struct {
	Name               string `json:"name"`
	HeadingDegMagnetic int    `json:"headingDegMagnetic"`
	LengthM            int    `json:"lengthM"`
	Surface            string `json:"surface"`
}

// Climate is what the stand-in's days vary around: the mean temperature (°C) of
// the year, its swing over the year and over the day, the wind that prevails
// (degrees true, knots), and how damp the air is: the mean spread between
// temperature and dew point (°C).
type Climate struct {
	MeanC       float64 `json:"meanC"`
	YearSwingC  float64 `json:"yearSwingC"`
	DaySwingC   float64 `json:"daySwingC"`
	WindFromDeg int     `json:"windFromDeg"`
	WindKt      float64 `json:"windKt"`
	SpreadC     float64 `json:"spreadC"`
}

// chance is a number from 0 to 1 that belongs to a place, a moment and a name:
// the same each time it is asked for.
func chance(place, what string, n int64) float64 {
	h := fnv.New64a()
	fmt.Fprintf(h, "%s/%s/%d", place, what, n)
	x := h.Sum64()
	x ^= x >> 33
	x *= 0xff51afd7ed558ccd
	x ^= x >> 33
	return float64(x>>11) / (1 << 53)
}

// drift goes smoothly from one day's chance to the next.
func drift(place, what string, at time.Time) float64 {
	day := at.Unix() / 86400
	part := float64(at.Unix()%86400) / 86400
	smooth := part * part * (3 - 2*part)
	return chance(place, what, day)*(1-smooth) + chance(place, what, day+1)*smooth
}

// Simulated is a report made up for a place and a moment, to practise with: the
// same place and half hour give the same report. It is no weather.
func Simulated(a Aerodrome, at time.Time) string {
	at = at.UTC().Truncate(30 * time.Minute)
	place := a.ID
	year := math.Cos(2 * math.Pi * float64(at.YearDay()-200) / 365)
	hour := float64(at.Hour()) + float64(at.Minute())/60
	sun := math.Cos(2 * math.Pi * (hour - 15) / 24)
	oat := a.Climate.MeanC + a.Climate.YearSwingC*year + a.Climate.DaySwingC*sun/2 + 8*(drift(place, "air", at)-0.5)
	spread := math.Max(0, a.Climate.SpreadC*(0.4+1.2*drift(place, "damp", at))+a.Climate.DaySwingC*sun/4)
	speed := math.Max(0, a.Climate.WindKt*(0.3+1.6*drift(place, "wind", at))*(0.8+0.3*sun))
	from := (a.Climate.WindFromDeg + int(160*(drift(place, "from", at)-0.5)) + 360) % 360
	qnh := 1013 + int(math.Round(44*(drift(place, "pressure", at)-0.5)))

	var b strings.Builder
	fmt.Fprintf(&b, "METAR %s %02d%02d%02dZ ", a.ID, at.Day(), at.Hour(), at.Minute())
	knots := int(math.Round(speed))
	switch tens := (from + 5) / 10 * 10; {
	case knots == 0:
		b.WriteString("00000KT ")
	case knots < 4:
		fmt.Fprintf(&b, "VRB%02dKT ", knots)
	default:
		if tens == 0 {
			tens = 360
		}
		gust := ""
		if g := knots + int(math.Round(speed*0.9*drift(place, "gust", at))); g >= knots+10 {
			gust = fmt.Sprintf("G%02d", g)
		}
		fmt.Fprintf(&b, "%03d%02d%sKT ", tens, knots, gust)
	}
	sky(&b, spread, chance(place, "sky", at.Unix()/10800))
	fmt.Fprintf(&b, "%s/%s Q%04d", degrees(oat), degrees(oat-spread), qnh)
	return b.String()
}

// sky writes visibility, weather and cloud for how damp the air is.
func sky(b *strings.Builder, spread, luck float64) {
	base := int(spread * 4) // hundreds of feet: about 400 ft for each °C of spread
	switch {
	case spread < 0.6:
		fmt.Fprintf(b, "%04d FG VV001 ", 200+int(luck*6)*100)
	case spread < 1.8:
		fmt.Fprintf(b, "%04d BR BKN%03d ", 2000+int(luck*20)*100, max(base, 3))
	case luck < 0.25:
		fmt.Fprintf(b, "8000 -RA SCT%03d BKN%03d ", max(base, 6), max(base, 6)+12)
	case luck < 0.55:
		fmt.Fprintf(b, "9999 SCT%03d ", max(base, 10))
	case base > 50:
		b.WriteString("CAVOK ")
	default:
		fmt.Fprintf(b, "9999 FEW%03d ", max(base, 12))
	}
}

func degrees(c float64) string {
	n := int(math.Round(c))
	if n < 0 {
		return fmt.Sprintf("M%02d", -n)
	}
	return fmt.Sprintf("%02d", n)
}

// InUse is the runway most into the wind, by its magnetic heading; the first one
// when the wind says nothing.
func (a Aerodrome) InUse(r Report) string {
	if len(a.Runways) == 0 {
		return ""
	}
	if r.Wind == nil || r.Wind.DirectionDeg == nil {
		return a.Runways[0].Name
	}
	best := a.Runways[0]
	head := func(w Runway) float64 {
		return math.Cos(
			(float64(*r.Wind.DirectionDeg) - a.VariationDegEast - float64(w.HeadingDegMagnetic)) * math.Pi / 180)
	}
	for _, w := range a.Runways[1:] {
		if head(w) > head(best)+1e-9 {
			best = w
		}
	}
	return best.Name
}

// digitWords are how figures are spoken on the radio.
var digitWords = []string{"zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine"}

func spoken(digits string) string {
	words := make([]string, 0, len(digits))
	for _, r := range digits {
		words = append(words, digitWords[r-'0'])
	}
	return strings.Join(words, " ")
}

// phonetic spells letters on the radio.
var phonetic = strings.Fields("Alfa Bravo Charlie Delta Echo Foxtrot Golf Hotel India Juliett Kilo Lima Mike " +
	"November Oscar Papa Quebec Romeo Sierra Tango Uniform Victor Whiskey X-ray Yankee Zulu")

// amounts are the words for cloud.
var amounts = map[string]string{
	"FEW": "few clouds", "SCT": "scattered", "BKN": "broken", "OVC": "overcast",
	"VV": "sky obscured, vertical visibility",
}

// Broadcast is a report as it is read aloud, for the student to copy down: the
// figures one by one, no word more than is needed. The letter tells one half
// hour's broadcast from the next.
func Broadcast(a Aerodrome, r Report, runway string) string {
	var s []string
	letter := "information"
	if len(r.Time) == 5 {
		half := number(r.Time[:2])*2 + number(r.Time[3:])/30
		letter = "information " + phonetic[half%26]
		s = append(s, fmt.Sprintf("%s %s, time %s", a.Name, letter, spoken(strings.Replace(r.Time, ":", "", 1))))
	} else {
		s = append(s, a.Name+" "+letter)
	}
	if runway != "" {
		s = append(s, "runway in use "+spoken(runway))
	}
	if w := r.Wind; w != nil {
		switch {
		case w.Calm:
			s = append(s, "wind calm")
		case w.DirectionDeg == nil:
			s = append(s, "wind variable "+spoken(fmt.Sprint(w.SpeedKt))+" knots")
		default:
			words := fmt.Sprintf("wind %s degrees, %s knots", spoken(fmt.Sprintf("%03d", *w.DirectionDeg)),
				spoken(fmt.Sprint(w.SpeedKt)))
			if w.GustKt != nil {
				words += ", gusting " + spoken(fmt.Sprint(*w.GustKt))
			}
			s = append(s, words)
		}
	}
	switch {
	case r.Cavok:
		s = append(s, "ceiling and visibility okay")
	case r.VisibilityM != nil && *r.VisibilityM >= 10000:
		s = append(s, "visibility ten kilometres or more")
	case r.VisibilityM != nil:
		s = append(s, "visibility "+spoken(fmt.Sprint(*r.VisibilityM))+" metres")
	}
	for _, w := range r.Weather {
		s = append(s, weatherWords[w])
	}
	for _, c := range r.Clouds {
		if c.BaseFt != nil {
			s = append(s, fmt.Sprintf("%s %s feet", amounts[c.Amount], spoken(fmt.Sprint(*c.BaseFt))))
		}
	}
	minus := func(n int) string {
		if n < 0 {
			return "minus " + spoken(fmt.Sprint(-n))
		}
		return spoken(fmt.Sprint(n))
	}
	if r.OATC != nil && r.DewPointC != nil {
		s = append(s, fmt.Sprintf("temperature %s, dew point %s", minus(*r.OATC), minus(*r.DewPointC)))
	}
	if r.QNHHPa != nil {
		n, _ := r.QNHHPa.Units()
		s = append(s, "QNH "+spoken(fmt.Sprint(n/10)))
	}
	s = append(s, "acknowledge "+letter)
	out := []string{}
	for _, words := range s {
		if words != "" {
			out = append(out, strings.ToUpper(words[:1])+words[1:])
		}
	}
	return strings.Join(out, ". ") + "."
}
