package quantity

import (
	"fmt"
	"math/bits"
	"slices"
)

// unit is one that numbers are read in: a number of it is that of its base
// after offset is taken off and num/den multiplied. A base is its own.
type unit struct {
	name, base string
	offset     int64
	num, den   uint64
}

// units are those that a person may choose. 1 inHg = 33.8638866667 hPa; the US
// gallon is 231 cubic inches, the foot 0.3048 m, the statute mile 1609.344 m
// and the nautical mile 1852 m, all exactly.
var units = []unit{
	{"°C", "°C", 0, 1, 1}, {"°F", "°C", 32, 5, 9},
	{"hPa", "hPa", 0, 1, 1}, {"inHg", "hPa", 0, 338_638_866_667, 10_000_000_000},
	{"L", "L", 0, 1, 1}, {"gal", "L", 0, 3_785_411_784, 1_000_000_000},
	{"L/h", "L/h", 0, 1, 1}, {"gal/h", "L/h", 0, 3_785_411_784, 1_000_000_000},
	{"kt", "kt", 0, 1, 1}, {"mph", "kt", 0, 1_609_344, 1_852_000},
	{"ft", "ft", 0, 1, 1}, {"m", "m", 0, 1, 1},
	{"bar", "bar", 0, 1, 1}, {"psi", "psi", 0, 1, 1},
}

// crossed are two lengths and two pressures, each of which may be read as the other. 1 bar
// = 100,000 Pa, and 1 psi = 6,894.757293168 Pa.
var crossed = map[[2]string]unit{
	{"bar", "psi"}: {"bar", "psi", 0, 100_000_000_000_000, 6_894_757_293_168},
	{"psi", "bar"}: {"psi", "bar", 0, 6_894_757_293_168, 100_000_000_000_000},
	{"m", "ft"}:    {"m", "ft", 0, 10_000, 3_048},
	{"ft", "m"}:    {"ft", "m", 0, 3_048, 10_000},
}

// between is how a number read in one unit becomes one of another, which data
// and rules use; none where the two measure different things.
func between(read, base string) (unit, bool) {
	if u, ok := crossed[[2]string{read, base}]; ok {
		return u, true
	}
	i := slices.IndexFunc(units, func(u unit) bool { return u.name == read && u.base == base })
	if i < 0 {
		return unit{}, false
	}
	return units[i], true
}

// Base is the unit that one is reckoned by, empty for a unit not known.
func Base(read string) string {
	for _, u := range units {
		if u.name == read {
			return u.base
		}
	}
	return ""
}

// Convertible are the units besides its own that a number in a unit of the
// rules may be read in.
func Convertible(base string) []string {
	var out []string
	for _, u := range units {
		if _, ok := between(u.name, base); ok && u.name != base {
			out = append(out, u.name)
		}
	}
	return out
}

// Converted brings a number read in one unit to another that rules use, to
// MaxDecimals: 212 °F is 100 °C, neither more nor less. The error says that the
// units measure different things, or that the number is too large.
func Converted(v Value, read, base string) (Value, error) {
	if read == base {
		return v, nil
	}
	u, ok := between(read, base)
	if !ok {
		return Value{}, fmt.Errorf("is not given in %s", read)
	}
	return scaled(v.Sub(Scaled(u.offset, 0)), u.num, u.den)
}

// Linear is how a number read in one unit becomes one of another: value × by + plus,
// for traces, whose samples are no readings and need not be exact.
func Linear(read, base string) (by, plus float64, ok bool) {
	if u, known := between(read, base); known {
		by = float64(u.num) / float64(u.den)
		return by, -float64(u.offset) * by, true
	}
	if u, known := between(base, read); known {
		return float64(u.den) / float64(u.num), float64(u.offset), true
	}
	return 0, 0, false
}

// scaled is v·num/den at MaxDecimals, rounded half away from zero.
func scaled(v Value, num, den uint64) (Value, error) {
	fine := v.At(MaxDecimals)
	n, negative := fine.n, fine.n < 0
	if negative {
		n = -n
	}
	high, low := bits.Mul64(uint64(n), num)
	low, carry := bits.Add64(low, den/2, 0)
	high += carry
	if high >= den {
		return Value{}, ErrRange
	}
	out, _ := bits.Div64(high, low, den)
	if out > maxScaled {
		return Value{}, ErrRange
	}
	if negative {
		return Value{-int64(out), MaxDecimals}, nil
	}
	return Value{int64(out), MaxDecimals}, nil
}

// Hectopascals converts a pressure in inches of mercury to hPa at so many
// decimals: 1 inHg = 33.8638866667 hPa.
func Hectopascals(inHg Value, decimals int) Value {
	v, err := Converted(inHg.At(2), "inHg", "hPa")
	if err != nil {
		return inHg.At(decimals) // beyond what any instrument shows, and refused as such
	}
	return v.At(decimals)
}

// Units are those that a person reads numbers in, by what is measured. What is
// empty is read as the data has it. Gauges of suction and manifold pressure are
// marked in inHg everywhere, so Pressure is that of altimeter settings.
type Units struct {
	Temperature string `json:"temperature,omitempty" enum:"°C,°F"`
	Pressure    string `json:"pressure,omitempty" enum:"hPa,inHg"`
	Volume      string `json:"volume,omitempty" enum:"L,gal"`
	Height      string `json:"height,omitempty" enum:"ft,m"`
	Length      string `json:"length,omitempty" enum:"m,ft"`
	Speed       string `json:"speed,omitempty" enum:"kt,mph"`
}

// Setting is one choice among units: what is measured, and the units there are,
// the usual one first.
type Setting struct {
	Name    string   `json:"name"`
	Label   string   `json:"label"`
	Choices []string `json:"choices"`
}

// Settings are the choices of units, in the order they are asked.
func Settings() []Setting {
	return []Setting{
		{"temperature", "Temperatures", []string{"°C", "°F"}},
		{"pressure", "Altimeter settings", []string{"hPa", "inHg"}},
		{"volume", "Fuel", []string{"L", "gal"}},
		{"height", "Heights and altitudes", []string{"ft", "m"}},
		{"length", "Runways and distances", []string{"m", "ft"}},
		{"speed", "Wind and airspeeds", []string{"kt", "mph"}},
	}
}

// at is the choice of that setting.
func (u *Units) at(name string) *string {
	return map[string]*string{
		"temperature": &u.Temperature, "pressure": &u.Pressure, "volume": &u.Volume, "height": &u.Height,
		"length": &u.Length, "speed": &u.Speed,
	}[name]
}

// Check reports the first choice that is none of its units.
func (u Units) Check() error {
	for _, s := range Settings() {
		if c := *u.at(s.Name); c != "" && !slices.Contains(s.Choices, c) {
			return fmt.Errorf("%s must be one of %v", s.Name, s.Choices)
		}
	}
	return nil
}

// Over is u with what it leaves open taken from the units below it.
func (u Units) Over(below Units) Units {
	for _, s := range Settings() {
		if own := u.at(s.Name); *own == "" {
			*own = *below.at(s.Name)
		}
	}
	return u
}

// Whole is u with nothing left open: what is, is read in the usual unit.
func (u Units) Whole() Units {
	var usual Units
	for _, s := range Settings() {
		*usual.at(s.Name) = s.Choices[0]
	}
	return u.Over(usual)
}

// For is the unit in which a number of a unit of the data is read.
func (u Units) For(base string) string {
	chosen := ""
	switch base {
	case "°C":
		chosen = u.Temperature
	case "hPa":
		chosen = u.Pressure
	case "L":
		chosen = u.Volume
	case "L/h":
		if u.Volume == "gal" {
			chosen = "gal/h"
		}
	case "ft":
		chosen = u.Height
	case "m":
		chosen = u.Length
	case "kt":
		chosen = u.Speed
	}
	if chosen == "" {
		return base
	}
	return chosen
}

// Show is a number of the data as a person reads it, and its unit: converted
// it has at most one decimal, inches of mercury two, and heights and distances
// from 100 on none. What needs no conversion keeps its digits.
func (u Units) Show(v Value, base string) (Value, string) {
	return u.shown(v, base, false)
}

// ShowDifference is Show for how far two numbers lie apart: 10 °C apart are
// 18 °F apart.
func (u Units) ShowDifference(v Value, base string) (Value, string) {
	return u.shown(v, base, true)
}

func (u Units) shown(v Value, base string, difference bool) (Value, string) {
	to := u.For(base)
	c, ok := between(to, base)
	if to == base || !ok {
		return v, base
	}
	out, err := scaled(v, c.den, c.num)
	if err != nil {
		return v, base
	}
	if !difference {
		out = out.Add(Scaled(c.offset, 0))
	}
	decimals := 1
	switch hundred := Scaled(100, 0); {
	case to == "inHg":
		decimals = 2
	case (to == "m" || to == "ft") && !out.Abs().Below(hundred):
		decimals = 0
	}
	return out.At(decimals), to
}
