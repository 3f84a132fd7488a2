package checklist

import (
	"fmt"
	"strconv"
	"strings"

	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// TypedDay is a day as a person types it; what is empty is not known. Numbers
// are in the units given, but an altimeter setting below 40 is in inHg and one
// above in hPa, and winds in a report's notation are in knots.
type TypedDay struct {
	OAT         string         `json:"oat"`
	Dew         string         `json:"dew"`
	Wind        string         `json:"wind"`
	Gust        string         `json:"gust"`
	Elevation   string         `json:"elevation"`
	QNH         string         `json:"qnh"`
	Night       string         `json:"night"` // night or day
	Rules       string         `json:"rules"`
	EngineState string         `json:"engineState"`
	FirstFlight string         `json:"firstFlight"` // yes or no
	Exercises   []string       `json:"exercises"`
	FuelMethod  string         `json:"fuelMethod"`
	Skips       []string       `json:"skips"`
	Breakers    string         `json:"breakers"`
	Units       quantity.Units `json:"units"`
}

// FreshDay is what a person begins with.
func FreshDay() TypedDay {
	return TypedDay{
		Night: "day", Rules: "VFR", EngineState: "cold", FirstFlight: "yes", Exercises: []string{}, Skips: []string{},
	}
}

// Day reads the typed day. The error is a form.Problem that names the field.
func (t TypedDay) Day() (Day, error) {
	night, first := t.Night == "night", t.FirstFlight == "yes"
	d := Day{
		Night: &night, FirstFlight: &first, Rules: t.Rules, EngineState: t.EngineState, FuelMethod: t.FuelMethod,
		Skips: t.Skips, Breakers: t.Breakers, Exercises: t.Exercises,
	}
	for _, n := range []struct {
		into **float64
		typedNumber
	}{
		{&d.OATC, t.oat()}, {&d.DewPointC, typedNumber{"dew", t.Dew, t.Units.For("°C"), "°C", -60, 60}},
		{&d.WindKt, typedNumber{"wind", t.Wind, t.Units.For("kt"), "kt", 0, 99}},
		{&d.GustKt, typedNumber{"gust", t.Gust, t.Units.For("kt"), "kt", 0, 99}},
		{&d.ElevationFt, typedNumber{"elevation", t.Elevation, t.Units.For("ft"), "ft", -1500, 20000}},
		{&d.QNHHPa, t.qnh()},
	} {
		v, _, err := n.read(t.Units)
		if err != nil {
			return d, err
		}
		if v != nil {
			f := v.At(2).Float()
			*n.into = &f
		}
	}
	if d.OATC != nil && d.DewPointC != nil && *d.DewPointC > *d.OATC {
		unit := t.Units.For("°C")
		return d, form.Bad("dew", "point, %s %s, cannot be above the outside air, %s %s", t.Dew, unit, t.OAT, unit)
	}
	if len(d.Exercises) == 0 {
		d.Exercises = nil
	}
	return d, nil
}

// Conditions are those of the typed day that checks are judged under, each
// number with the unit that it was typed in. What is empty is left out.
func (t TypedDay) Conditions() (map[string]any, error) {
	out := map[string]any{}
	if t.Night != "" {
		out["night"] = t.Night == "night"
	}
	for name, word := range map[string]string{"rules": t.Rules, "engineState": t.EngineState} {
		if word != "" {
			out[name] = word
		}
	}
	for name, n := range map[string]typedNumber{"oatC": t.oat(), "qnhHPa": t.qnh()} {
		_, given, err := n.read(t.Units)
		if err != nil {
			return nil, err
		}
		if given != nil {
			out[name] = given
		}
	}
	return out, nil
}

// typedNumber is a number as it was typed in a unit, with the bounds that it
// has in the unit of the rules.
type typedNumber struct {
	field, text, unit, base string
	low, high               int64
}

func (t TypedDay) oat() typedNumber {
	return typedNumber{"oat", t.OAT, t.Units.For("°C"), "°C", -60, 60}
}

func (t TypedDay) qnh() typedNumber {
	n := typedNumber{"qnh", t.QNH, "hPa", "hPa", weather.LowestQNH, weather.HighestQNH}
	if v, err := quantity.Parse(strings.TrimSpace(t.QNH), 2); err == nil && v.Below(quantity.Scaled(40, 0)) {
		n.unit = "inHg"
	}
	return n
}

// read is the number in the unit of the rules, and as it is kept in a record;
// empty text is none.
func (n typedNumber) read(u quantity.Units) (v *quantity.Value, given any, err error) {
	text := strings.TrimSpace(n.text)
	if text == "" {
		return nil, nil, nil
	}
	plain, why := form.PlainNumber(text, n.unit)
	if why != "" {
		return nil, nil, form.Bad(n.field, "%s", why)
	}
	typed, err := quantity.Parse(plain.String(), 3)
	if err == nil {
		typed, err = quantity.Converted(typed, n.unit, n.base)
	}
	if err != nil || typed.Below(quantity.Scaled(n.low, 0)) || typed.Above(quantity.Scaled(n.high, 0)) {
		return nil, nil, form.Bad(n.field, "%s is outside %s", form.Clip(text),
			u.Say(fmt.Sprintf("%d to %d %s", n.low, n.high, n.base)))
	}
	if n.unit != n.base {
		return &typed, form.Measured(plain, n.unit), nil
	}
	return &typed, plain, nil
}

// WithWind is the day with a wind as it is written for a lesson: 190/11,
// 190/11G18 or VRB/3; empty is not known.
func (t TypedDay) WithWind(wind string) (Day, error) {
	wind = strings.TrimSpace(wind)
	if wind == "" {
		return t.Day()
	}
	from, speed, parted := strings.Cut(wind, "/")
	speed, gust, gusty := strings.Cut(speed, "G")
	degrees, err := strconv.Atoi(from)
	known := from == "VRB" || err == nil && len(from) <= 3 && degrees >= 0 && degrees <= 360
	if !parted || !known || !short(speed) || gusty && !short(gust) {
		return Day{}, form.Bad("wind", "“%s” is not written like 190/11, 190/11G18 or VRB/3", form.Clip(wind))
	}
	t.Wind, t.Gust, t.Units.Speed = speed, gust, ""
	return t.Day()
}

// Reported is a weather report as the boxes of a day take it: the wind as it is
// written for a lesson, numbers in the units that a person types them in. What
// the report does not say is empty.
type Reported struct {
	Runway string `json:"runway"`
	Wind   string `json:"wind"`
	OAT    string `json:"oat"`
	Dew    string `json:"dew"`
	QNH    string `json:"qnh"`
}

// FromReport reads a report of a place. The error says that it says nothing of
// the kind.
func FromReport(text string, place weather.Aerodrome, u quantity.Units) (Reported, error) {
	r := weather.ParseReport(text)
	out := Reported{}
	if w := r.Wind; w != nil {
		out.Runway = place.InUse(r)
		from := "VRB"
		if w.DirectionDeg != nil {
			from = fmt.Sprintf("%03d", *w.DirectionDeg)
		} else if w.Calm {
			from = "000"
		}
		out.Wind = fmt.Sprintf("%s/%d", from, min(w.SpeedKt, 99))
		if w.GustKt != nil {
			out.Wind += fmt.Sprintf("G%d", min(*w.GustKt, 99))
		}
	}
	degrees := func(c *int) string {
		if c == nil {
			return ""
		}
		v, _ := u.Show(quantity.Scaled(int64(*c), 0), "°C")
		return v.String()
	}
	out.OAT, out.Dew = degrees(r.OATC), degrees(r.DewPointC)
	if set := r.QNHHPa; set != nil {
		if out.QNH = set.String(); u.For("hPa") == "inHg" && r.AltimeterInHg != nil {
			out.QNH = r.AltimeterInHg.String()
		}
	}
	if out == (Reported{}) {
		return out, form.Bad("report", "says neither wind nor temperature nor pressure")
	}
	return out, nil
}

// short reports whether text is one digit or two.
func short(text string) bool {
	if len(text) < 1 || len(text) > 2 {
		return false
	}
	_, err := strconv.ParseUint(text, 10, 8)
	return err == nil
}

// Slug is words as an id: lower case, joined by hyphens, at most 40 letters.
func Slug(words string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(words) {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			b.WriteRune(r)
		case b.Len() > 0 && !strings.HasSuffix(b.String(), "-"):
			b.WriteByte('-')
		}
		if b.Len() >= 40 {
			break
		}
	}
	return strings.Trim(b.String(), "-")
}
