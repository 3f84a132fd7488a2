package store

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
)

// shelf is where a lesson's versions are found: the school's own first, then
// what ships. It keeps the first error that is not "not found".
type shelf struct {
	tx  *Tx
	err error
}

func (s *shelf) TypeVersion(id string, version int) (aircraft.Type, bool) {
	return take[aircraft.Type](s, KindType, id, version)
}

func (s *shelf) ListVersion(id string, version int) (checklist.List, bool) {
	return take[checklist.List](s, KindList, id, version)
}

func (s *shelf) Scale(id string) (lesson.Scale, bool) { return s.tx.shipped.Scale(id) }

func take[T any](s *shelf, kind, id string, version int) (T, bool) {
	doc, err := Document[T](s.tx, kind, id, version)
	if err != nil && !errors.Is(err, ErrNotFound) && s.err == nil {
		s.err = err
	}
	return doc, err == nil
}

// book finds what a lesson is folded against.
func (tx *Tx) book(opened lesson.Opened) (lesson.Book, error) {
	s := &shelf{tx: tx}
	book, err := lesson.BookFrom(s, opened)
	if s.err != nil {
		return lesson.Book{}, fmt.Errorf("reading the library: %w", s.err)
	}
	return book, err
}

// checkFlown tailors the list again, with the layers the lesson names, and
// refuses a list as flown that differs.
func (tx *Tx) checkFlown(opened lesson.Opened) error {
	flown := opened.Flown
	if flown == nil {
		return nil
	}
	list, err := Document[checklist.List](tx, KindList, opened.List, opened.ListVersion)
	if err != nil {
		return err
	}
	t, err := Document[aircraft.Type](tx, KindType, opened.AircraftType, opened.TypeVersion)
	if err != nil {
		return err
	}
	layers := []checklist.Layer{}
	for i, ref := range flown.Layers {
		v, err := tx.VersionOf(KindLayer, ref.ID, ref.Version)
		if errors.Is(err, ErrNotFound) || err == nil && v.InForceFrom == "" {
			return &BatchError{fmt.Sprintf("payload.flown.layers[%d]", i), fmt.Sprintf("names %s version %d, which was never in force", ref.ID, ref.Version)}
		}
		if err != nil {
			return err
		}
		layer, err := Document[checklist.Layer](tx, KindLayer, ref.ID, ref.Version)
		if err != nil {
			return err
		}
		layers = append(layers, layer)
	}
	day := checklist.Day{}
	if opened.Day != nil {
		day = *opened.Day
	}
	again, err := checklist.Tailor(list, layers, t, checklist.Aircraft{Equipment: opened.Equipment, StartOrder: flown.StartOrder}, day)
	if err != nil {
		return &BatchError{"payload.flown", err.Error()}
	}
	want, err := json.Marshal(again)
	if err != nil {
		return err
	}
	if got, err := json.Marshal(flown); err != nil || !bytes.Equal(got, want) {
		return &BatchError{"payload.flown", "is not what the list, its layers, the equipment and the day make"}
	}
	return nil
}
