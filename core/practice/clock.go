package practice

import (
	"fmt"
	"time"

	"jetprimer/core/form"
	"jetprimer/core/stand"
)

// Wish is what an instructor does from the station: a change or a mark, which become deeds
// of the run at the moment at which they reach it.
type Wish struct {
	Change *Change `json:"change,omitempty"`
	Call   *Call   `json:"call,omitempty"`
}

// Holds refuses a run that holds other changes and marks of an instructor than were made,
// in their order.
func (r Run) Holds(wishes []Wish) error {
	at := 0
	for i, d := range r.Deeds {
		if !d.ofStation() {
			continue
		}
		if at >= len(wishes) || digest(wishes[at]) != digest(Wish{d.Change, d.Call}) {
			return form.Bad(fmt.Sprintf("run.deeds[%d]", i), "was not made by an instructor at this run's station")
		}
		at++
	}
	if at < len(wishes) {
		return form.Bad("run.deeds", "do not hold all that the instructor did: %d of %d", at, len(wishes))
	}
	return nil
}

// ofStation says that an instructor did it.
func (d Deed) ofStation() bool { return d.Change != nil || d.Call != nil && d.Call.Instructor }

// Hands is the SHA-256, in hexadecimal, of what the student met and did, whoever marked it
// and whenever it was: the same hands count once.
func (r Run) Hands() string {
	own := Run{Scenario: r.Scenario, Seed: r.Seed, From: r.From, Ticks: r.Ticks}
	for _, d := range r.Deeds {
		if !d.ofStation() {
			own.Deeds = append(own.Deeds, d)
		}
	}
	return digest(own)
}

// Own is how long the student worked, in seconds: what the stand showed before is not of it.
func (s *Session) Own() float64 {
	shown := 0
	if s.first > 0 {
		for _, c := range s.came {
			if c.item == s.places[s.first].Item.ID {
				shown = c.tick
			}
		}
	}
	return float64(s.Machine.Tick()-shown) / stand.TicksASecond
}

// Span is when a practice went on.
type Span struct{ From, Until time.Time }

// Timed is what is known of when a run was worked.
type Timed struct {
	// Began is the device's claim, Since when the school heard of the run first, as it went
	// on; zero where it did not.
	Began, Since time.Time
	// Own is how long the student worked, in seconds, and Arrived when the run came.
	Own     float64
	Arrived time.Time
	// Others are the student's other practices.
	Others []Span
}

// Bounds of when a practice may have been: how far a device's clock may be ahead, how long
// a run may wait on it, and how much quicker than time one may seem by what is on the way.
const (
	clockAhead  = 5 * time.Minute
	waitsMost   = 62 * 24 * time.Hour
	onTheWay    = 15 * time.Second
	overlapMost = 2 * time.Second
)

// Check refuses a run whose moment is impossible.
func (t Timed) Check() error {
	switch {
	case t.Began.After(t.Arrived.Add(clockAhead)):
		return form.Bad("run.began", "lies ahead of the school's clock: the clock of the device is wrong")
	case t.Arrived.Sub(t.Began) > waitsMost:
		return form.Bad("run.began",
			"is more than %d days ago: the clock of the device is wrong, or the practice has waited for too long",
			int(waitsMost.Hours()/24))
	}
	return nil
}

// Span is when it went on, by the school's clock where that is known.
func (t Timed) Span() Span {
	from := t.Began
	if !t.Since.IsZero() {
		from = t.Since
	}
	return Span{from, from.Add(time.Duration(t.Own * float64(time.Second)))}
}

// Uncounted says why a run counts towards nothing though it is kept; empty where it counts.
// What the school did not see go on, or what went on quicker than time, nobody can say was
// worked by hand.
func (t Timed) Uncounted() string {
	span := t.Span()
	switch {
	case t.Since.IsZero():
		return "It was worked while the school could not be reached, which cannot tell when."
	case span.Until.After(t.Arrived.Add(onTheWay)):
		return "It went on more quickly than time."
	}
	for _, o := range t.Others {
		if span.From.Add(overlapMost).Before(o.Until) && o.From.Add(overlapMost).Before(span.Until) {
			return "Another practice of the same student went on at the same time."
		}
	}
	return ""
}
