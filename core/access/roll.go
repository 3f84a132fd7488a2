package access

import (
	"slices"
	"strings"

	"jetprimer/core/form"
)

// RollEntry is one row of a table of people: what a student trains on stands there by
// the type's name or id, the instructor by the address.
type RollEntry struct {
	Line int
	Member
}

// Roll is a school's people as the rows of a table are held against them.
type Roll struct {
	Members map[string]Enrolled // all who are or were of the school, by address
	Invited map[string]bool     // the addresses that wait for their person
	Types   map[string]string   // ids of the types in force, by id and by name in small letters
}

// Enrolled is somebody of the school.
type Enrolled struct {
	ID string
	Member
	Active bool
	// Trains are the ids of the types that a student trains on: those of one class,
	// engine kind and start type.
	Trains []string
}

// MemberRow is a row of a table of people with the person that it makes, and
// whom it is about if the school knows them.
type MemberRow struct {
	form.Row
	Member Member
	ID     string
}

// Judge holds the rows of a table against the school: whom it would invite, what
// it would change, and everything that cannot be.
func (r Roll) Judge(entries []RollEntry) []MemberRow {
	lines := map[string]int{}
	out := make([]MemberRow, len(entries))
	for i, e := range entries {
		m := e.Tidy()
		j := form.NewRow(e.Line, m.Name)
		if e.Learns != nil {
			learns := r.learns(&j, *e.Learns)
			m.Learns = &learns
		}
		for _, fault := range m.Problems() {
			j.Refuse(fault)
		}
		j.Once(lines, "email", m.Email)
		if r.Invited[m.Email] {
			j.Refuse(form.Bad("email", "is invited already and has not come yet"))
		}
		known, there := r.Members[m.Email]
		if there {
			j.Changes = known.changes(m)
			if !known.Active {
				j.Refuse(form.Bad("email", "belongs to %s, who has left: take them back first", known.Name))
			}
		}
		j.Settle(there)
		out[i] = MemberRow{j, m, known.ID}
	}
	return out
}

// learns finds the type and the instructor that a row names.
func (r Roll) learns(j *form.Row, named Learns) Learns {
	with := r.Members[strings.ToLower(named.Instructor)]
	switch {
	case named.Instructor == "":
		j.Refuse(form.Bad("learns.instructor", "must be given for a student: the address of who teaches them"))
	case with.ID == "":
		j.Refuse(form.Bad("learns.instructor", "%q is nobody's address at the school: instructors come in first",
			named.Instructor))
	case !with.Active || !with.Roles.Teach():
		j.Refuse(form.Bad("learns.instructor", "%s does not teach at the school", with.Name))
	}
	id := r.Types[strings.ToLower(named.Type)]
	if id == "" {
		j.Refuse(form.Bad("learns.type", "%q is no aircraft type in force", named.Type))
	}
	return Learns{Type: id, Instructor: with.ID, StartedOn: named.StartedOn}
}

func (e Enrolled) changes(m Member) []string {
	columns := []form.Column{
		{Name: "name", Differs: e.Name != m.Name},
		{Name: "roles", Differs: !form.SameSet(e.Roles, m.Roles)},
		{Name: "number", Differs: e.Number != m.Number},
	}
	if m.Learns != nil {
		was := Learns{}
		if e.Learns != nil {
			was = *e.Learns
		}
		columns = append(columns,
			form.Column{Name: "type", Differs: !slices.Contains(e.Trains, m.Learns.Type)},
			form.Column{Name: "instructor", Differs: was.Instructor != m.Learns.Instructor},
			form.Column{Name: "since", Differs: was.StartedOn != m.Learns.StartedOn})
	}
	return form.Changed(columns...)
}
