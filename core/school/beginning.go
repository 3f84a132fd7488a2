// Package school holds the rules of the school itself: how it begins, its sites, settings
// and aircraft, how its day is told, what a finding means for an aircraft, and whose name
// may be erased. It reads no clock.
package school

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/weather"
)

// Beginning is everything that a school starts with, in one sitting.
type Beginning struct {
	Name     string         `json:"name"`
	TimeZone string         `json:"timeZone" doc:"such as Europe/Dublin"`
	Units    quantity.Units `json:"units"`
	// Bases are where it flies from; the first is its home.
	Bases []weather.Aerodrome `json:"bases"`
	// Chief is its chief instructor, who teaches and looks after its people.
	Chief Founder `json:"chief"`
	// Aircraft and Students are the first; more come later.
	Aircraft []Airframe      `json:"aircraft"`
	Students []access.Member `json:"students" doc:"they are invited; the chief instructor teaches whoever names no other"`
}

// Founder is who begins a school: its chief instructor.
type Founder struct {
	Name     string `json:"name"`
	Email    string `json:"email"`
	Password string `json:"password"`
}

// BasesMost is how many fields a school flies from at most.
const BasesMost = 20

// Bounds of a beginning: more is brought in from a file.
const (
	aircraftMost = 60
	studentsMost = 60
)

// Check reports the first mistake that keeps the school from beginning.
func (b Beginning) Check() error {
	if err := CheckPlace(b.Name, b.TimeZone); err != nil {
		return err
	}
	if err := b.Units.Check(); err != nil {
		return form.Bad("units", "cannot be used: %v", err)
	}
	switch {
	case len(b.Bases) == 0:
		return form.Bad("bases", "must hold at least one")
	case len(b.Bases) > BasesMost:
		return form.Bad("bases", "must be at most %d", BasesMost)
	case len(b.Aircraft) > aircraftMost:
		return form.Bad("aircraft", "must be at most %d to begin with", aircraftMost)
	case len(b.Students) > studentsMost:
		return form.Bad("students", "must be at most %d to begin with", studentsMost)
	}
	for i, base := range b.Bases {
		field := fmt.Sprintf("bases[%d]", i)
		if err := base.Check(field); err != nil {
			return err
		}
		if slices.ContainsFunc(b.Bases[:i], func(o weather.Aerodrome) bool { return o.ID == base.ID }) {
			return form.Bad(field+".id", "is there twice")
		}
	}
	chief := access.Member{Name: b.Chief.Name, Email: b.Chief.Email, Roles: FounderRoles}
	if err := chief.Check(); err != nil {
		return form.Under("chief.", err)
	}
	if err := access.CheckPassword(b.Chief.Password, b.Chief.Name, b.Chief.Email); err != nil {
		return form.Under("chief.", err)
	}
	for i, a := range b.Aircraft {
		field := fmt.Sprintf("aircraft[%d].", i)
		switch {
		case a.Check() != nil:
			return form.Under(field, a.Check())
		case slices.ContainsFunc(b.Aircraft[:i], func(o Airframe) bool { return o.Registration == a.Registration }):
			return form.Bad(field+"registration", "is there twice")
		case !slices.ContainsFunc(b.Bases, func(o weather.Aerodrome) bool { return o.ID == a.Base }):
			return form.Bad(field+"base", "is none of the bases")
		}
	}
	seen := map[string]bool{b.Chief.Email: true}
	for i, s := range b.Students {
		field := fmt.Sprintf("students[%d].", i)
		if err := s.Check(); err != nil {
			return form.Under(field, err)
		}
		if seen[s.Email] {
			return form.Bad(field+"email", "is there twice")
		}
		seen[s.Email] = true
	}
	return nil
}

// CheckPlace refuses a name or a time zone that a school cannot have.
func CheckPlace(name, zone string) error {
	if err := access.CheckText("name", name, access.NameMost); err != nil {
		return err
	}
	if _, err := time.LoadLocation(zone); err != nil || zone == "" || zone == "Local" {
		return form.Bad("timeZone", "must be a time zone such as Europe/Dublin")
	}
	return nil
}

// FounderRoles are those of who begins a school.
var FounderRoles = access.Roles{access.Chief, access.Instructor, access.Admin}

// Tidy is the beginning without what is only around the words.
func (b Beginning) Tidy() Beginning {
	b.Name = strings.Join(strings.Fields(b.Name), " ")
	chief := access.Member{Name: b.Chief.Name, Email: b.Chief.Email}.Tidy()
	b.Chief.Name, b.Chief.Email = chief.Name, chief.Email
	b.Bases, b.Aircraft, b.Students = slices.Clone(b.Bases), slices.Clone(b.Aircraft), slices.Clone(b.Students)
	for i := range b.Bases {
		b.Bases[i] = b.Bases[i].Tidy()
	}
	for i := range b.Aircraft {
		b.Aircraft[i] = b.Aircraft[i].Tidy()
	}
	for i := range b.Students {
		b.Students[i] = b.Students[i].Tidy()
		b.Students[i].Roles = access.Roles{access.Student}
	}
	return b
}
