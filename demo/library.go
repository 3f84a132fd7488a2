package demo

import (
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/library"
	"jetprimer/exchange"
	"jetprimer/store"
)

// written are the school's own layers and memory aids, in the open format.
//
//go:embed library
var written embed.FS

// shelved is a document of the demo school and the days before today on which
// it was written down and came into force.
type shelved struct {
	file   string
	kind   string
	by     Person
	before int
}

var documents = []shelved{
	{"school-alder", library.KindLayer, Ferreira, 120},
	{"supplement-twin", library.KindLayer, Ferreira, 120},
	{"aid-before-take-off", library.KindAid, Ferreira, 120},
	{"aid-run-up-twin", library.KindAid, Ferreira, 120},
	{"technique-okonjo", library.KindLayer, Okonjo, 80},
	{"bulletin-willow", library.KindLayer, Achterberg, 60},
	{"bulletin-alder", library.KindLayer, Achterberg, 35},
}

// stock brings the school's documents into force, and leaves a draft of the
// next list on the chief instructor's desk.
func stock(tx *store.Tx, day time.Time) error {
	for _, s := range documents {
		title, id, typ, body, err := s.read()
		if err != nil {
			return err
		}
		now := day.AddDate(0, 0, -s.before)
		if _, err := tx.AddDraft(s.kind, id, typ, title, func(int) ([]byte, error) { return body, nil }, s.by.ID,
			now); err != nil {
			return err
		}
		v := func() (library.Version, error) { return tx.VersionOf(s.kind, id, 1) }
		for _, step := range []func(library.Version) error{
			func(v library.Version) error { return tx.Review(v, Solheim.ID, now) },
			func(v library.Version) error { return tx.Approve(v, now.Format(time.DateOnly), Ferreira.ID, now) },
		} {
			version, err := v()
			if err == nil {
				err = step(version)
			}
			if err != nil {
				return fmt.Errorf("%s: %w", s.file, err)
			}
		}
	}
	bulletin, err := tx.VersionOf(library.KindLayer, "alder-sb-14", 1)
	if err != nil {
		return err
	}
	for _, p := range []Person{Okonjo, Solheim, Brandt, Sandoval, Halloran} {
		if err := tx.Tell(bulletin, p.ID, Ferreira.ID, day.AddDate(0, 0, -33)); err != nil {
			return err
		}
	}
	return draft(tx, day)
}

// read gives a document's title, id, type and body.
func (s shelved) read() (title, id, typ string, body []byte, err error) {
	data, err := written.ReadFile("library/" + s.file + ".yaml")
	if err != nil {
		return "", "", "", nil, err
	}
	doc, mistakes, err := exchange.ReadFile(s.kind, "yaml", s.file, data)
	if err == nil {
		err = exchange.Join(mistakes)
	}
	if err != nil {
		return "", "", "", nil, err
	}
	switch d := doc.(type) {
	case checklist.Layer:
		title, id, typ = d.Title, d.ID, d.AircraftType
	case checklist.Aid:
		title, id, typ = d.Title, d.ID, d.AircraftType
	}
	body, err = json.Marshal(doc)
	return title, id, typ, body, err
}

// draft is the next version of the Alder's list: an item more, one moved, one
// with other words.
func draft(tx *store.Tx, day time.Time) error {
	serving, err := tx.Desk("alder-110", day.Format(time.DateOnly), "")
	if err != nil {
		return err
	}
	list := serving.Lists[0]
	list.Phases = slices.Clone(list.Phases) // what ships is everybody's
	phase := list.Phases[0].Items
	if len(phase) < 4 {
		return errors.New("the list of the Alder is too short for the draft")
	}
	items := append([]checklist.Item{phase[1], phase[0]}, phase[2:]...)
	items[3].Response = "done, sun behind you"
	list.Phases[0].Items = append(items,
		checklist.Item{ID: "key-tag", Challenge: "Key tag", Response: "on the hook, not in the switch",
			Why: "A key in the switch tells nobody who is under the propeller.", Look: "the hook by the door",
			Abnormal: "a key in the switch",
			Errors:   []string{"pockets the key"}, Place: "cabin", NoStandard: "The school's own habit; no standard " +
				"names it."})
	_, err = tx.AddDraft(library.KindList, list.ID, list.AircraftType, list.Title, func(version int) ([]byte, error) {
		list.Version = version
		return json.Marshal(list)
	}, Ferreira.ID, day.AddDate(0, 0, -2))
	return err
}

// flown is the list as flown on a day, with what served then.
func flown(tx *store.Tx, typ, on, instructor string, of checklist.Aircraft, day checklist.Day) (aircraft.Type,
	checklist.List, checklist.Flown, error) {
	desk, err := tx.Desk(typ, on, instructor)
	if err != nil {
		return desk.Type, checklist.List{}, checklist.Flown{}, err
	}
	f, err := checklist.Tailor(desk.Lists[0], desk.Layers, desk.Type, of, day)
	return desk.Type, desk.Lists[0], f, err
}
