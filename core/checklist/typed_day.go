package checklist

import (
	"encoding/json"
	"strconv"
	"strings"

	"jetprimer/core/form"
	"jetprimer/core/weather"
)

// TypedDay is a day as a person types it; what is empty is not known.
type TypedDay struct {
	OAT         string   `json:"oat"`
	Dew         string   `json:"dew"`
	Wind        string   `json:"wind"`
	Gust        string   `json:"gust"`
	Elevation   string   `json:"elevation"`
	QNH         string   `json:"qnh"`
	Night       string   `json:"night"` // night or day
	Rules       string   `json:"rules"`
	EngineState string   `json:"engineState"`
	FirstFlight string   `json:"firstFlight"` // yes or no
	Exercises   []string `json:"exercises"`
}

// FreshDay is what a person begins with.
func FreshDay() TypedDay {
	return TypedDay{Night: "day", Rules: "VFR", EngineState: "cold", FirstFlight: "yes", Exercises: []string{}}
}

// Day reads the typed day. The error is a *form.InputError that names the field.
func (t TypedDay) Day() (Day, error) {
	night, first := t.Night == "night", t.FirstFlight == "yes"
	d := Day{Night: &night, FirstFlight: &first, Rules: t.Rules, EngineState: t.EngineState, Exercises: t.Exercises}
	for _, n := range []struct {
		into        **float64
		field, text string
		low, high   float64
		unit        string
	}{
		{&d.OATC, "oat", t.OAT, -60, 60, "°C"}, {&d.DewPointC, "dew", t.Dew, -60, 60, "°C"}, {&d.WindKt, "wind", t.Wind, 0, 99, "kt"}, {&d.GustKt, "gust", t.Gust, 0, 99, "kt"},
		{&d.ElevationFt, "elevation", t.Elevation, -1500, 20000, "ft"}, {&d.QNHHPa, "qnh", t.QNH, weather.LowestQNH, weather.HighestQNH, "hPa"},
	} {
		v, err := typedNumber(n.field, n.text, n.low, n.high, n.unit)
		if err != nil {
			return d, err
		}
		*n.into = v
	}
	if d.OATC != nil && d.DewPointC != nil && *d.DewPointC > *d.OATC {
		return d, form.Bad("dew", "point, %s °C, cannot be above the outside air, %s °C", t.Dew, t.OAT)
	}
	if len(d.Exercises) == 0 {
		d.Exercises = nil
	}
	return d, nil
}

// typedNumber reads a number within bounds; empty text is none.
func typedNumber(field, text string, low, high float64, unit string) (*float64, error) {
	if text = strings.TrimSpace(text); text == "" {
		return nil, nil
	}
	n, why := form.PlainNumber(text, unit)
	if why != "" {
		return nil, form.Bad(field, "%s", why)
	}
	v, err := json.Number(n).Float64()
	if err != nil || v < low || v > high {
		return nil, form.Bad(field, "%s is outside %g to %g %s", form.Clip(text), low, high, unit)
	}
	return &v, nil
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
	t.Wind, t.Gust = speed, gust
	return t.Day()
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
