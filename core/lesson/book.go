package lesson

import (
	"fmt"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
)

// Book is what a lesson is folded against: the exact versions its opening
// event names, and the list as it is flown.
type Book struct {
	Type aircraft.Type  `json:"type"`
	List checklist.List `json:"list"`
	// StartOrder, Layers and Reasons say how the list was tailored; they are
	// empty for a list that is worked as printed.
	StartOrder []int                `json:"startOrder,omitempty"`
	Layers     []checklist.LayerRef `json:"layers,omitempty"`
	Reasons    []checklist.Reason   `json:"reasons,omitempty"`
}

// Shelf is where the versions that a lesson names are found.
type Shelf interface {
	TypeVersion(id string, version int) (aircraft.Type, bool)
	ListVersion(id string, version int) (checklist.List, bool)
	Scale(id string) (Scale, bool)
}

// BookFrom finds what a lesson with that opening event is folded against. A
// list that was tailored is taken from the event itself: what becomes of lists
// and layers later does not touch it.
func BookFrom(shelf Shelf, opened Opened) (Book, error) {
	t, ok := shelf.TypeVersion(opened.AircraftType, opened.TypeVersion)
	if !ok {
		return Book{}, fmt.Errorf("aircraft type %s version %d is not known", opened.AircraftType, opened.TypeVersion)
	}
	list, ok := shelf.ListVersion(opened.List, opened.ListVersion)
	if !ok || list.AircraftType != t.ID {
		return Book{}, fmt.Errorf("checklist %s version %d for the %s is not known", opened.List, opened.ListVersion, t.Name)
	}
	if _, ok := shelf.Scale(opened.Scale); !ok {
		return Book{}, fmt.Errorf("scale %s is not known", opened.Scale)
	}
	if f := opened.Flown; f != nil {
		return Book{t, f.List, f.StartOrder, f.Layers, f.Reasons}, nil
	}
	return Book{Type: t, List: list}, nil
}
