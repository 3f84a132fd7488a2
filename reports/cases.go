package reports

import (
	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/library"
	"jetprimer/core/progress"
	"jetprimer/core/standard"
	"jetprimer/store"
)

// Case is all that a student's readiness rests on, as of a day.
func (r *Reports) Case(tx *store.Tx, st store.Student, asOf string) (StudentCase, error) {
	p, err := tx.Policy(asOf)
	if err != nil {
		return StudentCase{}, err
	}
	on, err := r.Cases(tx, asOf)
	if err != nil {
		return StudentCase{}, err
	}
	return on.Of(st, p.Standing)
}

// StudentCase is a student's case with the rule that it is judged by.
type StudentCase struct {
	progress.Case
	Policy progress.Policy
	// Lessons are those that count, oldest first.
	Lessons []progress.Seen
}

// Cases makes the cases of students as of a day, by any rule.
type Cases struct {
	tx     *store.Tx
	asOf   string
	packs  []standard.Pack
	moves  map[string]string
	listOf func(store.Student) checklist.List
	reach  func(store.Student) map[string]bool
	asked  func(typ string) []string
}

// Cases are those of the students of a day.
func (r *Reports) Cases(tx *store.Tx, asOf string) (Cases, error) {
	c := Cases{tx: tx, asOf: asOf, asked: r.catalog.Asked}
	var err error
	if c.packs, err = tx.Packs(asOf); err != nil {
		return c, err
	}
	c.moves = standard.Moves(c.packs)
	serving, err := tx.InForce("", asOf)
	if err != nil {
		return c, err
	}
	if c.listOf, err = lists(tx, serving); err != nil {
		return c, err
	}
	c.reach, err = r.reachOn(tx, serving, asOf)
	return c, err
}

// Of is the case of one student by a policy.
func (on Cases) Of(st store.Student, p progress.Policy) (StudentCase, error) {
	c, lessons, err := on.tx.Case(st, p, on.moves, on.asOf)
	if err != nil {
		return StudentCase{}, err
	}
	return StudentCase{on.complete(c, st, p), p, lessons}, nil
}

// AtAGlance are the cases of many students by the school's policy, by their ids, from what
// was derived when their lessons were signed: enough for [progress.Policy.Next].
func (on Cases) AtAGlance(students []store.Student, p progress.Policy) (map[string]progress.Case, error) {
	out, err := on.tx.Cases(students)
	if err != nil {
		return nil, err
	}
	for _, st := range students {
		c := out[st.ID]
		c.AsOf = on.asOf
		out[st.ID] = on.complete(c, st, p)
	}
	return out, nil
}

// complete is a student's case with what they are held to by a policy, and train on.
func (on Cases) complete(c progress.Case, st store.Student, p progress.Policy) progress.Case {
	c.Packs, c.List, c.Reach = progress.HeldTo(p.Standards, on.packs, st.Class), on.listOf(st), on.reach(st)
	c.Asked = on.asked(c.List.AircraftType)
	return c
}

// lists finds the list, of those that serve, for what a student trains on; types
// and lists are read once for all students.
func lists(tx *store.Tx, serving []library.Version) (func(store.Student) checklist.List, error) {
	var types, all []library.Version
	for _, v := range serving {
		switch v.Kind {
		case library.KindType:
			types = append(types, v)
		case library.KindList:
			all = append(all, v)
		}
	}
	typeDocs, err := store.Documents[aircraft.Type](tx, types)
	if err != nil {
		return nil, err
	}
	listDocs, err := store.Documents[checklist.List](tx, all)
	if err != nil {
		return nil, err
	}
	return func(s store.Student) checklist.List {
		for _, t := range typeDocs {
			if !progress.TrainsFor(s.Class, s.EngineKind, s.StartType, t) {
				continue
			}
			for _, l := range listDocs {
				if l.AircraftType == t.ID {
					return l
				}
			}
		}
		return checklist.List{}
	}, nil
}
