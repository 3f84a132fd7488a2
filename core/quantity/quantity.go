// Package quantity holds numbers the way an instrument shows them: scaled
// integers at a declared resolution. Floating point differs between processors
// in its last bits and makes 12.4 − 12.1 greater than 0.3; a Value does not.
package quantity

import (
	"errors"
	"fmt"
	"strconv"
	"strings"
)

// MaxDecimals is the finest resolution a Value can have: 10⁻⁶ of its unit.
const MaxDecimals = 6

// maxScaled keeps sums and differences of two Values, aligned to MaxDecimals,
// inside an int64.
const maxScaled = 1_000_000_000_000

var powers = [...]int64{1, 10, 100, 1_000, 10_000, 100_000, 1_000_000}

// Value is a finite number n·10^−decimals. The zero Value is 0 in whole units.
type Value struct {
	n        int64
	decimals uint8
}

// Scaled returns the value n·10^−decimals. It panics when decimals is outside
// 0…MaxDecimals: a resolution is written in code, not taken from input.
func Scaled(n int64, decimals int) Value {
	if decimals < 0 || decimals > MaxDecimals {
		panic(fmt.Sprintf("quantity: %d decimals", decimals))
	}
	return Value{n, uint8(decimals)}
}

// Errors of Parse.
var (
	ErrSyntax = errors.New("is not a number")
	ErrRange  = errors.New("is not a number an instrument can show")
)

// Parse reads a JSON number (digits, one point, an exponent) at the given
// resolution, rounding half away from zero. It works on the decimal digits, so
// 0.25 at one decimal is 0.3 on every machine. It answers ErrSyntax for what is
// not a JSON number and ErrRange for magnitudes of 10⁶ units of the finest
// resolution and more, infinities included.
func Parse(text string, decimals int) (Value, error) {
	if decimals < 0 || decimals > MaxDecimals {
		panic(fmt.Sprintf("quantity: %d decimals", decimals))
	}
	digits, point, negative, err := split(text)
	if err != nil {
		return Value{}, err
	}
	// The scaled integer is 0.digits × 10^(point+decimals).
	want := point + decimals
	if want < 0 {
		return Value{0, uint8(decimals)}, nil
	}
	if want > 15 {
		return Value{}, ErrRange
	}
	kept, roundUp := digits, false
	if len(digits) > want {
		kept, roundUp = digits[:want], digits[want] >= '5'
	} else {
		kept += strings.Repeat("0", want-len(digits))
	}
	n := int64(0)
	if kept != "" {
		if n, err = strconv.ParseInt(kept, 10, 64); err != nil {
			return Value{}, ErrRange
		}
	}
	if roundUp {
		n++
	}
	if n > maxScaled/powers[MaxDecimals]*powers[decimals] {
		return Value{}, ErrRange
	}
	if negative {
		n = -n
	}
	return Value{n, uint8(decimals)}, nil
}

// split takes a JSON number apart: its significant digits without leading
// zeros, and the place of the decimal point counted from their left end.
func split(text string) (digits string, point int, negative bool, err error) {
	rest, negative := strings.CutPrefix(text, "-")
	mantissa, exponent, hasExponent := rest, "", false
	if i := strings.IndexAny(rest, "eE"); i >= 0 {
		mantissa, exponent, hasExponent = rest[:i], rest[i+1:], true
	}
	whole, fraction, hasPoint := strings.Cut(mantissa, ".")
	if whole == "" || !allDigits(whole) || (len(whole) > 1 && whole[0] == '0') ||
		(hasPoint && (fraction == "" || !allDigits(fraction))) {
		return "", 0, false, ErrSyntax
	}
	shift := 0
	if hasExponent {
		unsigned := strings.TrimLeft(exponent, "+-")
		if len(exponent)-len(unsigned) > 1 || unsigned == "" || !allDigits(unsigned) {
			return "", 0, false, ErrSyntax
		}
		if shift, err = strconv.Atoi(strings.TrimPrefix(exponent, "+")); err != nil || shift > 1000 {
			shift = 1000
			if strings.HasPrefix(exponent, "-") {
				shift = -1000
			}
		}
		shift = max(shift, -1000)
	}
	all := whole + fraction
	digits = strings.TrimLeft(all, "0")
	point = len(whole) - (len(all) - len(digits)) + shift
	if digits == "" {
		return "", 0, false, nil
	}
	return digits, point, negative, nil
}

func allDigits(s string) bool {
	for i := range len(s) {
		if s[i] < '0' || s[i] > '9' {
			return false
		}
	}
	return true
}

// At returns v brought to another resolution, rounding half away from zero.
func (v Value) At(decimals int) Value {
	if decimals >= int(v.decimals) {
		return Scaled(v.n*powers[decimals-int(v.decimals)], decimals)
	}
	p := powers[int(v.decimals)-decimals]
	half := p / 2
	if v.n < 0 {
		half = -half
	}
	return Scaled((v.n+half)/p, decimals)
}

func align(v, w Value) (a, b int64, decimals uint8) {
	decimals = max(v.decimals, w.decimals)
	return v.n * powers[decimals-v.decimals], w.n * powers[decimals-w.decimals], decimals
}

// Sub returns v − w at the finer of the two resolutions.
func (v Value) Sub(w Value) Value {
	a, b, d := align(v, w)
	return Value{a - b, d}
}

// Add returns v + w at the finer of the two resolutions.
func (v Value) Add(w Value) Value {
	a, b, d := align(v, w)
	return Value{a + b, d}
}

// Abs returns |v|.
func (v Value) Abs() Value {
	if v.n < 0 {
		return Value{-v.n, v.decimals}
	}
	return v
}

// Cmp is −1, 0 or +1 as v is below, equal to or above w, whatever their
// resolutions.
func (v Value) Cmp(w Value) int {
	a, b, _ := align(v, w)
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// Above reports v > w; Below reports v < w. Equal is neither: a reading equal
// to its limit is within it.
func (v Value) Above(w Value) bool { return v.Cmp(w) > 0 }

// Below reports v < w.
func (v Value) Below(w Value) bool { return v.Cmp(w) < 0 }

// Sign is −1, 0 or +1.
func (v Value) Sign() int { return v.Cmp(Value{}) }

// Units returns the scaled integer at v's own resolution, and that resolution.
func (v Value) Units() (n int64, decimals int) { return v.n, int(v.decimals) }

// Float returns v for drawing and statistics, never for comparing.
func (v Value) Float() float64 { return float64(v.n) / float64(powers[v.decimals]) }

// String is the shortest decimal form: 12.50 prints as 12.5, 1750 as 1750.
func (v Value) String() string {
	n, sign := v.n, ""
	if n < 0 {
		n, sign = -n, "-"
	}
	whole := strconv.FormatInt(n/powers[v.decimals], 10)
	rest := n % powers[v.decimals]
	if rest == 0 {
		if whole == "0" {
			sign = ""
		}
		return sign + whole
	}
	fraction := fmt.Sprintf("%0*d", int(v.decimals), rest)
	return sign + whole + "." + strings.TrimRight(fraction, "0")
}

// MarshalJSON writes the shortest number form.
func (v Value) MarshalJSON() ([]byte, error) { return []byte(v.String()), nil }
