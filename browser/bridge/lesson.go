package bridge

import (
	"errors"
	"math"

	"github.com/google/uuid"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
)

// LessonShown is what a screen draws a lesson from.
type LessonShown struct {
	Answers []lesson.Taken `json:"answers,omitempty"`
	Events  []lesson.Event `json:"events,omitempty"`
	State   lesson.State   `json:"state"`
	// Live is the place of the item that is next in the list, Counter the highest counter of
	// an event.
	Live    int   `json:"live"`
	Counter int64 `json:"counter"`
	// Rows, Brief and the list in its reader's units come when a lesson is opened.
	Rows  []lesson.Row     `json:"rows,omitempty"`
	Brief []lesson.Element `json:"brief,omitempty"`
	List  *checklist.List  `json:"list,omitempty"`
}

var errNoLesson = errors.New("no lesson is open")

// session is the open lesson's.
func (b *Bridge) session() (*lesson.Session, error) {
	if b.open.session == nil {
		return nil, errNoLesson
	}
	return b.open.session, nil
}

func (b *Bridge) lessonShown() LessonShown {
	return LessonShown{
		State: b.open.state.In(b.units), Live: b.open.session.Live(b.open.state), Counter: b.open.session.LastCounter(),
	}
}

// Desk is what serves one aircraft type: a shelf for the lessons on it.
type Desk struct {
	Type   aircraft.Type    `json:"type"`
	Lists  []checklist.List `json:"lists"`
	Scales []lesson.Scale   `json:"scales"`
}

// TypeVersion finds the type of the desk.
func (d Desk) TypeVersion(id string, version int) (aircraft.Type, bool) {
	return d.Type, d.Type.ID == id && d.Type.Version == version
}

// ListVersion finds a list of the desk.
func (d Desk) ListVersion(id string, version int) (checklist.List, bool) {
	for _, l := range d.Lists {
		if l.ID == id && l.Version == version {
			return l, true
		}
	}
	return checklist.List{}, false
}

// Scale finds a grade scale of the desk.
func (d Desk) Scale(id string) (lesson.Scale, bool) {
	for _, s := range d.Scales {
		if s.ID == id {
			return s, true
		}
	}
	return lesson.Scale{}, false
}

func (b *Bridge) book(from Desk, e lesson.Event) (lesson.Book, error) {
	e, opened, err := lesson.OpeningOf([]lesson.Event{e}, "")
	if err != nil {
		return lesson.Book{}, err
	}
	return lesson.BookFrom(from, e.ID, opened)
}

// openLesson opens a lesson; of the device's own events the last sequence is found.
func (b *Bridge) openLesson(book lesson.Book, events []lesson.Event, device string) LessonShown {
	l := lesson.New(book)
	answers := l.Add(events...)
	s := lesson.NewSession(l)
	s.Units, s.Device = b.units, device
	b.open = openLesson{session: s, state: s.State(), device: device}
	for _, e := range events {
		if e.Device == device {
			b.open.seq = max(b.open.seq, e.Seq)
		}
	}
	out := b.lessonShown()
	list := book.List.In(b.units)
	out.Answers, out.Rows, out.Brief, out.List = answers, s.Rows(), lesson.BriefElements(book.Type), &list
	return out
}

func (b *Bridge) add(events []lesson.Event) (LessonShown, error) {
	s, err := b.session()
	if err != nil {
		return LessonShown{}, err
	}
	answers := s.Add(events...)
	b.open.state = s.State()
	out := b.lessonShown()
	out.Answers = answers
	return out, nil
}

// touch takes a mark, the milliseconds since the lesson opened and the wall time. A clock
// that was put back counts from the opening.
func (b *Bridge) touch(mark lesson.Mark, atMs float64, wall string) (LessonShown, error) {
	s, err := b.session()
	if err != nil {
		return LessonShown{}, err
	}
	if mark.Day != nil {
		mark.Day.Units = b.units
	}
	events, err := s.Touch(b.open.state, mark, lesson.Stamp{
		Device: b.open.device, Seq: b.open.seq, AtMs: int64(math.Round(max(atMs, 0))), Wall: wall, ID: newID,
	})
	if err != nil {
		return LessonShown{}, err
	}
	if len(events) > 0 {
		s.Add(events...)
		b.open.seq = events[len(events)-1].Seq
		b.open.state = s.State()
	}
	out := b.lessonShown()
	out.Events = events
	return out, nil
}

func (b *Bridge) panel(item string, draft form.Draft) (lesson.Panel, error) {
	s, err := b.session()
	if err != nil {
		return lesson.Panel{}, err
	}
	return s.Panel(b.open.state, item, draft)
}

func (b *Bridge) timer(timer, item string, seconds float64) (lesson.Timed, error) {
	s, err := b.session()
	if err != nil {
		return lesson.Timed{}, err
	}
	return s.Timed(timer, item, seconds), nil
}

func (b *Bridge) seen() (lesson.Seen, error) {
	if _, err := b.session(); err != nil {
		return lesson.Seen{}, err
	}
	return b.open.state.Seen(), nil
}

// sum takes the state that is shown: that of a signed lesson is as it was signed.
func (b *Bridge) sum(state lesson.State) lesson.Sum { return state.Sum() }

func (b *Bridge) fixes(before map[string]lesson.Tally) ([]lesson.Fix, error) {
	s, err := b.session()
	if err != nil {
		return nil, err
	}
	return s.ToFix(b.open.state, before), nil
}

func (b *Bridge) phases() (map[string]int, error) {
	if _, err := b.session(); err != nil {
		return nil, err
	}
	return lesson.PhaseLevels(b.open.state), nil
}

func (b *Bridge) strip() (lesson.Strip, error) {
	s, err := b.session()
	if err != nil {
		return lesson.Strip{}, err
	}
	return s.Strip(b.open.state), nil
}

// Moment is a lesson as it was at a moment of it.
type Moment struct {
	State lesson.State `json:"state"`
	// Day and Seen are the day of that moment and what had been observed, in words.
	Day  string `json:"day"`
	Seen string `json:"seen"`
}

func (b *Bridge) at(ms float64) (Moment, error) {
	s, err := b.session()
	if err != nil {
		return Moment{}, err
	}
	then := s.At(int64(math.Round(ms)))
	return Moment{then.In(b.units), s.DayWords(then), then.Seen().Words}, nil
}

func (b *Bridge) instrument(reading string) (check.Instrument, error) {
	s, err := b.session()
	if err != nil {
		return check.Instrument{}, err
	}
	return s.Instrument(b.open.state, reading)
}

// newID is the id of an event: a UUID of version 7, in the order in which events are made.
func newID() string { return uuid.Must(uuid.NewV7()).String() }

// choose answers the list as flown that a choice makes.
func (b *Bridge) choose(c lesson.Choice) (checklist.Flown, error) {
	c.Day.Units = b.units
	flown, _, err := c.Tailored()
	return flown.In(b.units), err
}

func (b *Bridge) opened(c lesson.Choice) (lesson.Opened, error) {
	c.Day.Units = b.units
	return c.Opened()
}
