package school

import (
	"jetprimer/core/form"
	"jetprimer/core/quantity"
)

// Settings are what a school decides for itself.
type Settings struct {
	// Units are those that its people read, where they have not chosen others.
	Units quantity.Units `json:"units"`
}

// Check names the first setting that cannot be used.
func (s Settings) Check() error {
	if err := s.Units.Check(); err != nil {
		return form.Bad("units", "cannot be used: %v", err)
	}
	return nil
}
