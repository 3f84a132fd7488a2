package access

import (
	"strings"

	"jetprimer/core/form"
)

// Bounds of a PIN, in digits.
const (
	pinLeast = 6
	pinMost  = 12
)

// CheckPin refuses a number that somebody would try first: it has 6 to 12
// digits, not all the same and none that count up or down.
func CheckPin(pin string) error {
	switch {
	case len(pin) < pinLeast || len(pin) > pinMost || strings.Trim(pin, "0123456789") != "":
		return form.Bad("pin", "must be %d to %d digits", pinLeast, pinMost)
	case strings.Count(pin, pin[:1]) == len(pin):
		return form.Bad("pin", "must not be one digit over and over")
	case strings.Contains("01234567890123456789", pin) || strings.Contains("98765432109876543210", pin):
		return form.Bad("pin", "must not just count up or down")
	}
	return nil
}
