package store

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/library"
)

// shelf is where a lesson's versions are found: the school's own first, then
// what ships. It keeps the first error that is not "not found".
type shelf struct {
	tx  *Tx
	err error
}

func (s *shelf) TypeVersion(id string, version int) (aircraft.Type, bool) {
	return fromShelf[aircraft.Type](s, library.KindType, id, version)
}

func (s *shelf) ListVersion(id string, version int) (checklist.List, bool) {
	return fromShelf[checklist.List](s, library.KindList, id, version)
}

func (s *shelf) Scale(id string) (lesson.Scale, bool) { return s.tx.store.shipped.Scale(id) }

func fromShelf[T any](s *shelf, kind, id string, version int) (T, bool) {
	doc, err := Document[T](s.tx, kind, id, version)
	if err != nil && !errors.Is(err, ErrNotFound) && s.err == nil {
		s.err = err
	}
	return doc, err == nil
}

// book finds what a lesson is folded against.
func (tx *Tx) book(id string, opened lesson.Opened) (lesson.Book, error) {
	s := &shelf{tx: tx}
	book, err := lesson.BookFrom(s, id, opened)
	if s.err != nil {
		return lesson.Book{}, fmt.Errorf("reading the library: %w", s.err)
	}
	if err != nil {
		return lesson.Book{}, refuse("payload", err.Error())
	}
	return book, nil
}

// versionsFit refuses an opening event that names a type, list or layer that
// was never in force.
func (tx *Tx) versionsFit(opened lesson.Opened, today string) error {
	all, err := tx.Versions(opened.AircraftType)
	if err != nil {
		return err
	}
	fits := func(field, kind, id string, version int) error {
		i := slices.IndexFunc(all, func(v library.Version) bool { return v.Named(kind, id, version) })
		if i < 0 || !all[i].HasServed(today) {
			return refuse(field, fmt.Sprintf("names %s version %d, which was never in force", id, version))
		}
		return nil
	}
	if err := fits("payload.typeVersion", library.KindType, opened.AircraftType, opened.TypeVersion); err != nil {
		return err
	}
	if err := fits("payload.listVersion", library.KindList, opened.List, opened.ListVersion); err != nil {
		return err
	}
	if opened.Flown == nil {
		return nil
	}
	for i, ref := range opened.Flown.Layers {
		if err := fits(fmt.Sprintf("payload.flown.layers[%d]", i), library.KindLayer, ref.ID, ref.Version); err != nil {
			return err
		}
	}
	return nil
}

// checkFlown tailors the list again, with the layers the lesson names, and
// refuses a list as flown that differs.
func (tx *Tx) checkFlown(opened lesson.Opened) error {
	flown := opened.Flown
	if flown == nil {
		return nil
	}
	list, err := Document[checklist.List](tx, library.KindList, opened.List, opened.ListVersion)
	if err != nil {
		return err
	}
	t, err := Document[aircraft.Type](tx, library.KindType, opened.AircraftType, opened.TypeVersion)
	if err != nil {
		return err
	}
	named := make([]library.Version, len(flown.Layers))
	for i, ref := range flown.Layers {
		named[i] = library.Version{Kind: library.KindLayer, ID: ref.ID, Version: ref.Version}
	}
	layers, err := Documents[checklist.Layer](tx, named)
	if err != nil {
		return err
	}
	day := checklist.Day{}
	if opened.Day != nil {
		day = *opened.Day
	}
	again, err := checklist.Tailor(list, layers, t, checklist.Aircraft{
		Equipment: opened.Equipment, StartOrder: flown.StartOrder,
	}, day)
	if err != nil {
		return refuse("payload.flown", err.Error())
	}
	if opened.Run() {
		again = again.Measured(opened.First)
	}
	want, err := json.Marshal(again)
	if err != nil {
		return err
	}
	if got, err := json.Marshal(flown); err != nil || !bytes.Equal(got, want) {
		return refuse("payload.flown", "is not what the list, its layers, the equipment and the day make")
	}
	return nil
}
