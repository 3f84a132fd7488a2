package lesson

import (
	"strings"
	"time"

	"jetprimer/core/form"
)

// Papers are who may write down a lesson afterwards that was kept on paper, as a
// school decides; the first where it has not decided.
var Papers = []string{"chief", "giver", "nobody"}

// Paper says that a lesson was kept on paper and written down afterwards: its day,
// and when it moved off and was shut down as it stands there. The moments of its
// marks say nothing of it.
type Paper struct {
	Day string `json:"day" format:"date"`
	Off string `json:"off,omitempty"` // the school's time of day, such as 10:05
	On  string `json:"on,omitempty"`
}

// oldestPaper is how many days a lesson on paper may be old when it is written down.
const oldestPaper = 366

func (p *Paper) check() error {
	if _, err := time.Parse(time.DateOnly, p.Day); err != nil {
		return form.Bad("payload.paper.day", "must be a day such as 2026-11-24")
	}
	for _, t := range []struct{ field, text string }{{"off", p.Off}, {"on", p.On}} {
		if _, err := time.Parse("15:04", t.text); t.text != "" && err != nil {
			return form.Bad("payload.paper."+t.field, "must be a time of day such as 10:05")
		}
	}
	if (p.Off == "") != (p.On == "") {
		return form.Bad("payload.paper.on", "and off stand on the paper together, or not at all")
	}
	return nil
}

// From is when a lesson on paper began in a zone: when it moved off, or noon of its
// day where that does not stand there.
func (p *Paper) From(zone *time.Location) time.Time {
	clock := p.Off
	if clock == "" {
		clock = "12:00"
	}
	at, err := time.ParseInLocation("2006-01-02 15:04", p.Day+" "+clock, zone)
	if err != nil {
		return time.Time{} // check refuses it
	}
	return at
}

// Fits reports what is wrong with a lesson on paper when it is written down on a day.
func (p *Paper) Fits(today string) error {
	day, err1 := time.Parse(time.DateOnly, p.Day)
	now, err2 := time.Parse(time.DateOnly, today)
	switch {
	case err1 != nil || err2 != nil || day.After(now):
		return form.Bad("payload.paper.day", "is not over yet, or is no day")
	case now.Sub(day).Hours() > oldestPaper*24:
		return form.Bad("payload.paper.day", "is more than %d days ago", oldestPaper)
	}
	return nil
}

// minutes are those from moving off to the shutdown, as read; 0 where they do not stand
// there.
func (p *Paper) minutes() int {
	off, err1 := time.Parse("15:04", p.Off)
	on, err2 := time.Parse("15:04", p.On)
	if err1 != nil || err2 != nil {
		return 0
	}
	if on.Before(off) {
		on = on.Add(24 * time.Hour)
	}
	return int(on.Sub(off).Minutes())
}

// Words say in a sentence what a lesson from paper claims.
func (p *Paper) Words() string {
	said := []string{"Written down afterwards from paper: flown on " + p.Day}
	if p.Off != "" {
		said = append(said, "off "+p.Off, "on "+p.On+", as read")
	}
	return strings.Join(said, ", ") + ". It says nothing of the times of its items."
}

// timeless takes from the state what only tells how long it took to write it down.
func (s *State) timeless() {
	s.DurationMs, s.Timers = 0, []Timer{}
	for i := range s.Items {
		s.Items[i].AtMs = 0
	}
}
