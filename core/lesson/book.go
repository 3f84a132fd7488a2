package lesson

import (
	"fmt"
	"time"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// Book is what a lesson is folded against: the exact versions its opening
// event names, and the list as it is flown.
type Book struct {
	// Opening is the id of the event that opened the lesson: no other opens it.
	// Without it the first by order does.
	Opening string         `json:"opening,omitempty"`
	Type    aircraft.Type  `json:"type"`
	List    checklist.List `json:"list"`
	// StartOrder, Layers and Reasons say how the list was tailored; they are
	// empty for a list that is worked as printed.
	StartOrder []int                `json:"startOrder,omitempty"`
	Layers     []checklist.LayerRef `json:"layers,omitempty"`
	Reasons    []checklist.Reason   `json:"reasons,omitempty"`
	// Tank is how long the engine may be fed from the tank of the take-off, by
	// the fuel plan of what was dipped.
	Tank *aircraft.Duration `json:"tank,omitempty"`
}

// Shelf is where the versions that a lesson names are found.
type Shelf interface {
	TypeVersion(id string, version int) (aircraft.Type, bool)
	ListVersion(id string, version int) (checklist.List, bool)
	Scale(id string) (Scale, bool)
}

// OpeningOf is the event that opens a lesson, and what it carries: the one of
// that id, or without an id the first by order.
func OpeningOf(events []Event, id string) (Event, Opened, error) {
	var first *held
	for _, e := range events {
		h := &held{Event: e}
		if e.Kind == KindOpened && (id == "" || id == e.ID) && (first == nil || order(h, first) < 0) {
			first = h
		}
	}
	if first == nil {
		return Event{}, Opened{}, form.Bad("events", "do not hold the event that opens the lesson")
	}
	p, err := first.decode()
	if err != nil {
		return first.Event, Opened{}, err
	}
	return first.Event, *p.(*Opened), nil
}

// BookFrom finds what a lesson with that opening event is folded against. A
// list that was tailored is taken from the event itself: what becomes of lists
// and layers later does not touch it.
func BookFrom(shelf Shelf, id string, opened Opened) (Book, error) {
	t, ok := shelf.TypeVersion(opened.AircraftType, opened.TypeVersion)
	if !ok {
		return Book{}, fmt.Errorf("aircraft type %s version %d is not known", opened.AircraftType, opened.TypeVersion)
	}
	list, ok := shelf.ListVersion(opened.List, opened.ListVersion)
	if !ok || list.AircraftType != t.ID {
		return Book{}, fmt.Errorf("checklist %s version %d for the %s is not known", opened.List, opened.ListVersion,
			t.Name)
	}
	if _, ok := shelf.Scale(opened.Scale); !ok {
		return Book{}, fmt.Errorf("scale %s is not known", opened.Scale)
	}
	if opened.Equipment != nil || opened.Flown != nil { // else nobody says what is fitted
		t = t.With(opened.Equipment)
	}
	book := Book{Opening: id, Type: t, List: list, Tank: tankTime(t, opened)}
	if f := opened.Flown; f != nil {
		book.List, book.StartOrder, book.Layers, book.Reasons = f.List, f.StartOrder, f.Layers, f.Reasons
	}
	return book, nil
}

// RunningMs is for how many milliseconds a lesson has been running, by the
// moments at which its events arrived: an event is never older than its arrival
// says. Wall clocks of devices do not come into it.
func RunningMs(events []Event, now time.Time) int64 {
	running := int64(0)
	for _, e := range events {
		if at, err := time.Parse(time.RFC3339, e.Received); err == nil {
			running = max(running, e.AtMs+max(0, now.Sub(at).Milliseconds()))
		}
	}
	return min(running, MaxAtMs)
}

// Open is a lesson made of its events and of the versions that they name.
// opening is the id of the event that opened it, empty for the first by order.
func Open(shelf Shelf, events []Event, opening string) (*Lesson, error) {
	e, opened, err := OpeningOf(events, opening)
	if err != nil {
		return nil, err
	}
	book, err := BookFrom(shelf, e.ID, opened)
	if err != nil {
		return nil, err
	}
	l := New(book)
	l.Add(events...)
	return l, nil
}
