// Package library holds the life of what a school writes down in versions: aircraft types,
// checklists, layers, memory aids, policies and standards packs. A version is a draft, is
// reviewed, serves from a day on, and is withdrawn.
package library

import (
	"fmt"
	"slices"

	"jetprimer/core/form"
)

// The kinds of documents a school has versions of.
const (
	KindType  = "type"
	KindList  = "list"
	KindLayer = "layer"
	KindAid   = "aid"
	// KindPolicy is the school's policy: a document of no aircraft type.
	KindPolicy = "policy"
	// KindPack is a standards pack.
	KindPack = "pack"
)

// The states of a version, in the order they follow each other.
const (
	Draft     = "draft"
	Reviewed  = "reviewed"
	InForce   = "in-force"
	Withdrawn = "withdrawn"
)

// Version is one version of a type, list, layer, memory aid or policy. The shipped ones
// are in force from the beginning.
type Version struct {
	Kind          string `json:"kind" enum:"type,list,layer,aid,policy,pack"`
	ID            string `json:"id"`
	Version       int    `json:"version"`
	AircraftType  string `json:"aircraftType"`
	Title         string `json:"title"`
	Status        string `json:"status" enum:"draft,reviewed,in-force,withdrawn"`
	Revision      int    `json:"revision" doc:"counts the savings of a draft"`
	InForceFrom   string `json:"inForceFrom" doc:"a day; empty until approved"`
	WithdrawnFrom string `json:"withdrawnFrom" doc:"a day; empty until withdrawn"`
	WrittenBy     string `json:"writtenBy" doc:"empty for what ships with the program"`
	ReviewedBy    string `json:"reviewedBy"`
	ReviewedOn    string `json:"reviewedOn" doc:"the school's day; empty until reviewed"`
	ApprovedBy    string `json:"approvedBy"`
	WithdrawnBy   string `json:"withdrawnBy"`
	Shipped       bool   `json:"shipped"`
	// Writers are the accounts of all who wrote on it.
	Writers  []string `json:"writers"`
	Standing string   `json:"standing" enum:"draft,reviewed,coming,serving,earlier,withdrawn" doc:"how it stands on the day asked for"`
}

// Named reports whether two versions are the same.
func (v Version) Named(kind, id string, version int) bool {
	return v.Kind == kind && v.ID == id && v.Version == version
}

// ServesOn reports whether the version is in force on a day.
func (v Version) ServesOn(day string) bool {
	if v.Status != InForce && v.Status != Withdrawn {
		return false
	}
	return v.InForceFrom <= day && (v.WithdrawnFrom == "" || day < v.WithdrawnFrom)
}

// HasServed reports whether the version is, or has been, in force on a day: a
// lesson may be opened on no other.
func (v Version) HasServed(day string) bool {
	return (v.Status == InForce || v.Status == Withdrawn) && v.InForceFrom <= day
}

// Open reports whether the version is shown to people who do not write.
func (v Version) Open() bool { return v.Shipped || v.InForceFrom != "" }

// Serving are the versions in force on a day: of each document the highest.
func Serving(all []Version, day string) []Version {
	var out []Version
	for _, v := range all {
		if !v.ServesOn(day) {
			continue
		}
		i := slices.IndexFunc(out, func(o Version) bool { return o.Kind == v.Kind && o.ID == v.ID })
		switch {
		case i < 0:
			out = append(out, v)
		case v.Version > out[i].Version:
			out[i] = v
		}
	}
	return out
}

// standing is how the version stands on a day, where it is not the one that
// serves.
func (v Version) standing(day string) string {
	switch {
	case v.Status == Draft || v.Status == Reviewed:
		return v.Status
	case v.WithdrawnFrom != "" && v.WithdrawnFrom <= day:
		return "withdrawn"
	case v.InForceFrom > day:
		return "coming"
	}
	return "earlier"
}

// Marked are all the versions, each with how it stands on a day.
func Marked(all []Version, day string) []Version {
	out := slices.Clone(all)
	serving := Serving(all, day)
	for i, v := range out {
		out[i].Standing = v.standing(day)
		if slices.ContainsFunc(serving, func(s Version) bool { return s.Named(v.Kind, v.ID, v.Version) }) {
			out[i].Standing = "serving"
		}
	}
	return out
}

// Next is the number of the next version of a document; the error says that it
// is for another aircraft type.
func Next(all []Version, kind, id, aircraftType string) (int, error) {
	next := 1
	for _, v := range all {
		if v.Kind != kind || v.ID != id {
			continue
		}
		next = max(next, v.Version+1)
		if v.AircraftType != aircraftType {
			return 0, form.Problem{
				Reason: fmt.Sprintf("%s %s is for the %s, not for the %s", kind, id, v.AircraftType, aircraftType),
			}
		}
	}
	return next, nil
}

// Step is one step in the life of a version.
type Step struct {
	name string // as it is said: "cannot be …"
	from string // the state it needs
	// dated steps begin on a day that is not over.
	dated string
}

// The steps.
var (
	Save    = Step{"saved", Draft, ""}
	Drop    = Step{"deleted", Draft, ""}
	Review  = Step{"reviewed", Draft, ""}
	Reopen  = Step{"taken back to draft", Reviewed, ""}
	Approve = Step{
		"approved", Reviewed, "a version comes into force today or later, not on %s: lessons before are not changed",
	}
	Withdraw = Step{
		"withdrawn", InForce, "a version is withdrawn from today or later, not from %s: lessons before are not changed",
	}
)

// Check says why the version cannot take a step from a day on; nil when it can.
func (s Step) Check(v Version, from, today string) error {
	switch {
	case v.Shipped:
		return form.Problem{
			Reason: fmt.Sprintf("version %d ships with the program and stays; write a version of your own over it",
				v.Version),
		}
	case v.Status != s.from:
		return form.Problem{Reason: fmt.Sprintf("version %d is %s and cannot be %s", v.Version, v.Status, s.name)}
	case s.dated != "" && from < today:
		return form.Problem{Reason: fmt.Sprintf(s.dated, from)}
	}
	return nil
}

// MayConfirm says why a person may not confirm the numbers of a type: they are
// held to the handbook's pages by somebody who wrote none of them.
func (v Version) MayConfirm(account string) error {
	if slices.Contains(v.Writers, account) {
		return form.Problem{
			Reason: "you wrote on this version: somebody else holds its numbers to the pages of the handbook",
		}
	}
	return nil
}

// MustBeTold reports whether a person has to be told of a version: they have
// neither flown nor been told of it, and the school wrote it.
func (v Version) MustBeTold(flown, told int) bool { return !v.Shipped && max(flown, told) < v.Version }

// Latest is the newest approved version of a document; false when there is none.
func Latest(all []Version, kind, id string) (Version, bool) {
	var last Version
	for _, v := range all {
		if v.Kind == kind && v.ID == id && v.Status == InForce && v.Version > last.Version {
			last = v
		}
	}
	return last, last.ID != ""
}
