package calc

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// Field is a place as its report has it now, in words: what a day is planned by
// at a glance. What the report does not say is empty.
type Field struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Report string `json:"report"`
	// Time is the report's own, UTC.
	Time string `json:"time"`
	// Runway is the one in use, Wind the report's, FromDeg where it comes from,
	// magnetic; Along and Across are of the runway, Gust is what gusts make of it.
	Runway  string       `json:"runway"`
	Wind    string       `json:"wind"`
	FromDeg *int         `json:"fromDeg"`
	Along   string       `json:"along"`
	Across  string       `json:"across"`
	Gust    string       `json:"gust"`
	Strips  []FieldStrip `json:"strips"`
	Air     string       `json:"air"`
	// Ice is the band of the carburettor icing chart, empty where there is none.
	Ice             string `json:"ice"`
	Setting         string `json:"setting"`
	DensityAltitude string `json:"densityAltitude"`
	Sky             string `json:"sky"`
}

// FieldStrip is a runway from end to end, named as from this side.
type FieldStrip struct {
	Name       string `json:"name"`
	HeadingDeg int    `json:"headingDeg"`
	Grass      bool   `json:"grass"`
}

// FieldNow reads a report for a place, in the units that a person reads.
func FieldNow(report string, place weather.Aerodrome, icing []IcingBand, u quantity.Units) Field {
	d := &day{typed: TypedDay{Report: report, Units: u}, typ: aircraft.Type{EngineKind: "piston"}, field: place,
		answers: map[string]form.Object{},
		tables:  Tables{Icing: icing}}
	d.Sheet = Sheet{Wrong: map[string]string{}}
	d.weather()
	r := weather.ParseReport(report)
	f := Field{
		ID: place.ID, Name: place.Name, Report: report, Time: r.Time, Runway: d.Runway, Strips: []FieldStrip{},
		Sky: u.Say(r.Sky()),
	}
	for _, w := range place.Runways {
		f.Strips = append(f.Strips, FieldStrip{w.Name, w.HeadingDegMagnetic, w.Surface == "grass"})
	}
	if w := r.Wind; w != nil {
		f.Wind = windNow(*w, u)
		if w.DirectionDeg != nil && !w.Calm {
			m := (*w.DirectionDeg - int(math.Round(place.VariationDegEast)) + 360) % 360
			f.FromDeg = &m
		}
		for _, line := range d.Runways {
			if line.Name == d.Runway && !w.Calm {
				f.Along, f.Across = line.Along, line.Across
			}
		}
		f.Gust = d.gustNow(*w)
	}
	if r.OATC != nil {
		f.Air = fmt.Sprintf("%d °C", *r.OATC)
		if r.DewPointC != nil {
			f.Air += fmt.Sprintf(", dew point %d °C", *r.DewPointC)
		}
		f.Air = u.Say(f.Air)
	}
	if band := d.value("carb-ice", "band"); band != "none" {
		f.Ice = band
	}
	if hPa := d.value("metar", "qnhHPa"); hPa != "" {
		said := []string{hPa + " hPa", d.value("metar", "altimeterInHg") + " inHg"}
		if u.For("hPa") == "inHg" {
			slices.Reverse(said)
		}
		f.Setting = strings.Join(said, ", ")
	}
	if density := d.value("altitudes", "densityAltitudeFt"); density != "" {
		f.DensityAltitude = u.Say(density + " ft")
	}
	return f
}

func windNow(w weather.Wind, u quantity.Units) string {
	switch {
	case w.Calm:
		return "calm"
	case w.DirectionDeg == nil:
		return u.Say(fmt.Sprintf("variable, %d kt", w.SpeedKt))
	}
	words := fmt.Sprintf("from %03d°, %d kt", *w.DirectionDeg, w.SpeedKt)
	if w.GustKt != nil {
		words += fmt.Sprintf(", gusts %d kt", *w.GustKt)
	}
	return u.Say(words)
}

// gustNow is the crosswind of the runway in use in the gusts.
func (d *day) gustNow(w weather.Wind) string {
	if w.GustKt == nil {
		return ""
	}
	for _, r := range d.parted {
		if r.Name == d.Runway {
			return d.typed.Units.Say(fmt.Sprintf("in gusts cross %s kt", r.GustCrossKt.Abs()))
		}
	}
	return ""
}
