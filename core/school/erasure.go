package school

import (
	"crypto/sha256"
	"fmt"
	"time"

	"jetprimer/core/form"
)

// Pseudonym is what stands for a person once their name is gone: the same in
// every place, and telling nobody who it was.
func Pseudonym(id string) string {
	sum := sha256.Sum256([]byte("pseudonym " + id))
	return fmt.Sprintf("Former member %X", sum[:3])
}

// PseudonymEmail is an address that reaches nobody.
func PseudonymEmail(id string) string {
	sum := sha256.Sum256([]byte("pseudonym " + id))
	return fmt.Sprintf("%x@erased.invalid", sum[:12])
}

// Leaver is somebody whose name may be asked to be erased.
type Leaver struct {
	Name   string
	Active bool
	// LeftOn is the day they left.
	LeftOn string
	// Unsigned counts their lessons that nobody has signed yet, Elsewhere the other
	// schools here that they belong to.
	Unsigned  int
	Elsewhere int
	Erased    bool
}

// MayErase says why the name of somebody cannot be erased; typed is the name as
// whoever asks for it has typed it.
func (l Leaver) MayErase(typed string) error {
	switch {
	case l.Erased:
		return form.Bad("person", "has no name here any more")
	case l.Active:
		return form.Bad("person", "belongs to the school: let them go first")
	case l.Elsewhere > 0:
		return form.Bad("person",
			"belongs to another school of this installation, where the name is needed: it is erased once they have "+
				"left that too")
	case l.Unsigned > 0:
		return form.Bad("person",
			"has %d lessons that nobody has signed: sign them first, or their record stays open for good", l.Unsigned)
	case typed != l.Name:
		return form.Bad("name", "is not the person's: type it as it stands")
	}
	return nil
}

// KeptUntil is the last day on which the name of somebody who left is kept for so
// many years.
func KeptUntil(leftOn string, years int) string {
	day, err := time.Parse(time.DateOnly, leftOn)
	if err != nil {
		return ""
	}
	return day.AddDate(years, 0, 0).Format(time.DateOnly)
}
