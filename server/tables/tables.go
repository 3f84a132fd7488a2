package tables

import (
	"context"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/progress"
	"jetprimer/core/school"
	"jetprimer/exchange"
	"jetprimer/server/api"
	"jetprimer/server/fleet"
	"jetprimer/server/people"
	"jetprimer/store"
)

// TableRead is a table of people or aircraft as it was read: what each row comes
// to, and what keeps the table from being read at all. Nothing is kept yet.
type TableRead struct {
	Rows     []form.Row     `json:"rows"`
	Problems []form.Problem `json:"problems"`
}

// TableTaken is what a table brought in.
type TableTaken struct {
	New     int           `json:"new"`
	Changed int           `json:"changed"`
	Invited []api.Welcome `json:"invited" doc:"who was invited, with their codes; these are shown this once"`
}

type tableInput struct {
	Name    string `query:"name" maxLength:"200" doc:"of the file"`
	RawBody []byte
}

type takeInput struct {
	Body struct {
		Name  string `json:"name" maxLength:"200" doc:"of the file"`
		Table string `json:"table" doc:"the file's text"`
		Aside []int  `json:"aside" maxItems:"2000" doc:"the lines of the rows that are set aside"`
	}
}

// tableMost bounds a table of people or aircraft, in bytes.
const tableMost = 1 << 20

// heldTable is a table held against the school, with what taking one of its rows
// does.
type heldTable struct {
	rows     []form.Row
	mistakes []form.Problem
	take     func(row int, out *TableTaken) error
}

// hold reads a table and holds it against the school.
type hold func(tx *store.Tx, w api.Person, name string, data []byte) (heldTable, error)

func (s Handlers) tableRoutes() {
	for _, of := range []struct {
		what  string
		reads access.Roles
		takes access.Roles
		hold  hold
		file  func(context.Context, api.Person, *struct{}) (*api.File, error)
	}{
		{"people", access.Governing, access.Governing, s.holdPeople, s.exportPeople},
		{"aircraft", access.AircraftReaders, access.AircraftKeepers, s.holdAircraft, s.exportAircraft},
	} {
		api.Handle(s.API, api.Route{
			ID: "export-" + of.what, For: of.reads, Method: http.MethodGet, Path: "/" + of.what + ".csv",
			Summary: "The school's " + of.what + " as a table",
		}, of.file)
		api.Handle(s.API, api.Route{
			ID: "read-" + of.what, For: of.takes, Method: http.MethodPost, Path: "/" + of.what + "/table",
			MaxBodyBytes: tableMost, Summary: "Read a table of " + of.what + " row by row; nothing is kept",
		}, s.readTable(of.hold))
		api.Handle(s.API, api.Route{
			ID: "take-" + of.what, For: of.takes, Method: http.MethodPost, Path: "/" + of.what + "/table/take",
			MaxBodyBytes: 2 * tableMost,
			Summary:      "Take a table of " + of.what + ": all of its rows, or all that were not set aside",
		}, s.takeTable(of.what, of.hold))
	}
}

func (s Handlers) readTable(hold hold) func(context.Context, api.Person,
	*tableInput) (*struct{ Body TableRead }, error) {
	return func(ctx context.Context, w api.Person, in *tableInput) (*struct{ Body TableRead }, error) {
		out := &struct{ Body TableRead }{}
		return out, s.In(ctx, w, func(tx *store.Tx) error {
			held, err := hold(tx, w, in.Name, in.RawBody)
			out.Body = TableRead{held.rows, append([]form.Problem{}, held.mistakes...)}
			return err
		})
	}
}

func (s Handlers) takeTable(what string, hold hold) func(context.Context, api.Person,
	*takeInput) (*struct{ Body TableTaken },
	error) {
	return func(ctx context.Context, w api.Person, in *takeInput) (*struct{ Body TableTaken }, error) {
		out := &struct{ Body TableTaken }{TableTaken{Invited: []api.Welcome{}}}
		err := s.In(ctx, w, func(tx *store.Tx) error {
			held, err := hold(tx, w, in.Body.Name, []byte(in.Body.Table))
			if err != nil {
				return err
			}
			aside := map[int]bool{}
			for _, line := range in.Body.Aside {
				aside[line] = true
			}
			if err := held.unfit(aside); err != nil {
				return err
			}
			for i, row := range held.rows {
				switch {
				case aside[row.Line] || row.ComesTo == form.RowSame:
					continue
				case row.ComesTo == form.RowNew:
					out.Body.New++
				default:
					out.Body.Changed++
				}
				if err := held.take(i, &out.Body); err != nil {
					return err
				}
			}
			return nil
		})
		if err == nil {
			s.Audit(ctx, w,
				what+" brought in from a table: "+strconv.Itoa(out.Body.New)+" new, "+strconv.Itoa(out.Body.Changed)+
					" changed", in.Body.Name)
		}
		return out, err
	}
}

// unfit refuses a table that cannot be read, and one with a wrong row that is not
// set aside: all of the others are taken, or nothing.
func (h heldTable) unfit(aside map[int]bool) error {
	var details []error
	for _, m := range h.mistakes {
		details = append(details, m)
	}
	for _, r := range h.rows {
		for _, f := range r.Problems {
			if !aside[r.Line] {
				details = append(details, form.Problem{File: "table", Line: r.Line, Field: f.Field, Reason: f.Reason})
			}
		}
	}
	if len(details) == 0 {
		return nil
	}
	return huma.Error422UnprocessableEntity("Some rows cannot be taken. Nothing was taken: mend them, or set them aside.",
		details[:min(len(details), 100)]...)
}

// holdPeople holds a table of people against those of the school.
func (s Handlers) holdPeople(tx *store.Tx, w api.Person, name string, data []byte) (heldTable, error) {
	day := s.Today(w)
	entries, mistakes := exchange.ReadRoll(name, data)
	roll := access.Roll{Members: map[string]access.Enrolled{}, Invited: map[string]bool{}}
	members, types, err := membersAndTypes(tx, day)
	if err != nil {
		return heldTable{}, err
	}
	for _, m := range members {
		roll.Members[m.Email] = access.Enrolled{ID: m.ID, Member: m.Member, Active: m.Active, Trains: trainsOn(m,
			types)}
	}
	roll.Types = typesNamed(types)
	invited, err := tx.Invitations()
	for _, i := range invited {
		roll.Invited[i.Email] = i.Open(s.Now())
	}
	rows := roll.Judge(entries)
	out := heldTable{rows: make([]form.Row, len(rows)), mistakes: mistakes}
	for i, j := range rows {
		out.rows[i] = j.Row
	}
	out.take = func(i int, out *TableTaken) error {
		j := rows[i]
		if j.ComesTo == form.RowNew {
			made, err := people.New(s.API).InviteIn(tx, w, j.Member)
			out.Invited = append(out.Invited, api.Welcome{
				ID: made.ID, Name: j.Member.Name, Path: made.Path, Code: made.Code,
			})
			return err
		}
		if j.Member.Learns != nil && !slices.Contains(j.Changes, "type") {
			j.Member.Learns.Type = "" // what they train on stays as it is
		}
		return tx.SetMember(j.ID, j.Member, true, day)
	}
	return out, err
}

func membersAndTypes(tx *store.Tx, day string) ([]store.Member, []aircraft.Type, error) {
	types, err := tx.Types(day)
	if err != nil {
		return nil, nil, err
	}
	members, err := tx.Members()
	return members, types, err
}

// trainsOn are the ids of the types that a student trains on.
func trainsOn(m store.Member, types []aircraft.Type) (ids []string) {
	for _, t := range types {
		if progress.TrainsFor(m.Class, m.EngineKind, m.StartType, t) {
			ids = append(ids, t.ID)
		}
	}
	return ids
}

// exportPeople gives who is of the school as a table that can be brought in again.
func (s Handlers) exportPeople(ctx context.Context, w api.Person, _ *struct{}) (*api.File, error) {
	var out []access.RollEntry
	err := s.In(ctx, w, func(tx *store.Tx) error {
		members, types, err := membersAndTypes(tx, s.Today(w))
		address := map[string]string{}
		for _, m := range members {
			address[m.ID] = m.Email
		}
		for _, m := range members {
			if !m.Active {
				continue
			}
			if m.Learns != nil {
				m.Learns.Instructor = address[m.Learns.Instructor]
				if on := trainsOn(m, types); len(on) > 0 {
					m.Learns.Type = on[0]
				}
			}
			out = append(out, access.RollEntry{Member: m.Member})
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	data, err := exchange.WriteRoll(out)
	return api.CSVFile("people-"+s.Today(w), data), err
}

// holdAircraft holds a table of aircraft against those of the school.
func (s Handlers) holdAircraft(tx *store.Tx, w api.Person, name string, data []byte) (heldTable, error) {
	day := s.Today(w)
	entries, mistakes := exchange.ReadFleet(name, data)
	hangar := school.Hangar{Aircraft: map[string]school.KnownAirframe{}, Equipment: map[string][]string{}}
	types, err := tx.Types(day)
	if err != nil {
		return heldTable{}, err
	}
	for _, t := range types {
		for _, e := range fleet.Optional(t) {
			hangar.Equipment[t.ID] = append(hangar.Equipment[t.ID], e.ID)
		}
	}
	hangar.Types = typesNamed(types)
	bases, err := tx.Bases()
	if err != nil {
		return heldTable{}, err
	}
	for _, b := range bases {
		hangar.Bases = append(hangar.Bases, b.ID)
	}
	fleet, err := tx.Fleet(day)
	for _, a := range fleet {
		hangar.Aircraft[a.Registration] = school.KnownAirframe{Airframe: a.Airframe(), Retired: a.Retired(day)}
	}
	rows := hangar.Judge(entries)
	out := heldTable{rows: make([]form.Row, len(rows)), mistakes: mistakes}
	for i, j := range rows {
		out.rows[i] = j.Row
	}
	out.take = func(i int, _ *TableTaken) error {
		a := rows[i].Airframe
		if rows[i].ComesTo == form.RowNew {
			return tx.AddAirframe(a, day)
		}
		before := hangar.Aircraft[a.Registration]
		if a.Hours == nil {
			a.Hours = before.Hours
		}
		return tx.SetAirframe(a, day, "", w.Account, day, s.Now())
	}
	return out, err
}

// exportAircraft gives what flies for the school as a table that can be brought
// in again.
func (s Handlers) exportAircraft(ctx context.Context, w api.Person, _ *struct{}) (*api.File, error) {
	var out []school.FleetEntry
	err := s.In(ctx, w, func(tx *store.Tx) error {
		fleet, err := tx.Aircraft(s.Today(w))
		for _, a := range fleet {
			e := school.FleetEntry{Airframe: a.Airframe()}
			if a.Hours != nil {
				e.Hours = strconv.FormatFloat(*a.Hours, 'f', 1, 64)
			}
			out = append(out, e)
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	data, err := exchange.WriteFleet(out)
	return api.CSVFile("aircraft-"+s.Today(w), data), err
}

// typesNamed are the ids of aircraft types by id and by name, in small letters.
func typesNamed(types []aircraft.Type) map[string]string {
	out := map[string]string{}
	for _, t := range types {
		out[strings.ToLower(t.ID)], out[strings.ToLower(t.Name)] = t.ID, t.ID
	}
	return out
}
