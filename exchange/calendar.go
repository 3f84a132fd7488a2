package exchange

import (
	"strings"
	"time"
	"unicode/utf8"
)

// Appointment is one event of a calendar.
type Appointment struct {
	// ID stays the same when the event is moved.
	ID             string
	Start, End     time.Time
	Title          string
	Place, Details string
}

// WriteCalendar writes a calendar as iCalendar (RFC 5545), for programs that ask
// for it again and again: times in UTC, texts escaped, lines of at most 75 bytes
// that end with CR and LF.
func WriteCalendar(name string, events []Appointment, now time.Time) []byte {
	var b strings.Builder
	line := func(name, value string) {
		text := name + ":" + value
		for most := 75; ; most = 74 {
			if len(text) <= most {
				b.WriteString(text + "\r\n")
				return
			}
			cut := most
			for !utf8.RuneStart(text[cut]) {
				cut--
			}
			b.WriteString(text[:cut] + "\r\n ")
			text = text[cut:]
		}
	}
	moment := func(at time.Time) string { return at.UTC().Format("20060102T150405Z") }
	line("BEGIN", "VCALENDAR")
	line("VERSION", "2.0")
	line("PRODID", "-//Jet Primer//Schedule//EN")
	line("METHOD", "PUBLISH")
	line("X-WR-CALNAME", calendarText(name))
	line("REFRESH-INTERVAL;VALUE=DURATION", "PT15M")
	for _, e := range events {
		line("BEGIN", "VEVENT")
		line("UID", calendarText(e.ID))
		line("DTSTAMP", moment(now))
		line("DTSTART", moment(e.Start))
		line("DTEND", moment(e.End))
		line("SUMMARY", calendarText(e.Title))
		if e.Place != "" {
			line("LOCATION", calendarText(e.Place))
		}
		if e.Details != "" {
			line("DESCRIPTION", calendarText(e.Details))
		}
		line("END", "VEVENT")
	}
	line("END", "VCALENDAR")
	return []byte(b.String())
}

// calendarText is a text as a value: what has a meaning of its own there is
// escaped, what is no text left out.
func calendarText(s string) string {
	s = strings.ReplaceAll(strings.ToValidUTF8(s, ""), "\r\n", "\n")
	s = strings.Map(func(r rune) rune {
		if r < ' ' && r != '\n' && r != '\t' || r == 0x7f {
			return -1
		}
		return r
	}, s)
	return strings.NewReplacer(`\`, `\\`, ";", `\;`, ",", `\,`, "\n", `\n`).Replace(s)
}
