package exchange

import (
	"bytes"
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"unicode/utf8"

	"jetprimer/core/checklist"
	"jetprimer/core/form"
)

// apart stands between challenge and response in a written task list.
const apart = " — "

// WriteMarkdown gives a list as Markdown: a heading a phase, a task an item,
// and under it what else the item has, a bullet each.
func WriteMarkdown(list checklist.List) []byte {
	var b bytes.Buffer
	closing := ""
	if strings.HasSuffix(list.Title, "#") {
		closing = " #" // or its own would be taken for one
	}
	fmt.Fprintf(&b, "# %s%s\n\n", list.Title, closing)
	for _, about := range listFields(&list) {
		fmt.Fprintf(&b, "- %s: %s\n", about.name, about.text())
	}
	for _, phase := range list.Phases {
		fmt.Fprintf(&b, "\n## %s {#%s}\n\n", phase.Title, phase.ID)
		for i := range phase.Items {
			writeTask(&b, &phase.Items[i])
		}
	}
	return b.Bytes()
}

func writeTask(b *bytes.Buffer, item *checklist.Item) {
	fmt.Fprintf(b, "- [ ] %s%s%s\n", item.Challenge, apart, item.Response)
	challenge, response := splitTask(item.Challenge + apart + item.Response)
	for _, c := range columns {
		if c.name == "challenge" && challenge == item.Challenge || c.name == "response" && response == item.Response {
			continue
		}
		for _, entry := range c.get(item) {
			fmt.Fprintf(b, "  - %s: %s\n", c.name, entry)
		}
	}
}

// listField is a field of the list itself, as its Markdown names it.
type listField struct {
	name string
	text func() string
	set  func(string) error
}

func listFields(l *checklist.List) []listField {
	plain := func(name string, at *string) listField {
		return listField{name, func() string { return *at }, func(s string) error { *at = s; return nil }}
	}
	return []listField{
		plain("id", &l.ID),
		{"version", func() string { return strconv.Itoa(l.Version) }, func(s string) (err error) {
			if l.Version, err = strconv.Atoi(s); err != nil {
				err = fmt.Errorf("version must be a whole number, not %q", s)
			}
			return err
		}},
		plain("aircraft type", &l.AircraftType),
		plain("source", &l.Source),
	}
}

var (
	heading  = regexp.MustCompile(`^(#{1,6})\s+(.*?)(?:\s+#+)?$`)
	phaseID  = regexp.MustCompile(`^(.*?)\s*\{#([^}\s]+)\}$`)
	task     = regexp.MustCompile(`^\s{0,1}(?:[-*+]|\d+[.)])\s+\[[ xX]?\]\s+(.*)$`)
	bullet   = regexp.MustCompile(`^(\s*)[-*+]\s+(.*)$`)
	splitter = regexp.MustCompile(` — | – |\s+-\s+|:\s+|\s*\.{3,}\s*|\s*…+\s*|\t+|\s+\|\s+`)
)

// splitTask parts the words of a task into challenge and response: at a dash,
// a colon, dots or a tab, whichever comes first.
func splitTask(words string) (challenge, response string) {
	at := splitter.FindStringIndex(words)
	if at == nil {
		return strings.TrimSpace(words), ""
	}
	return strings.TrimSpace(words[:at[0]]), strings.TrimSpace(words[at[1]:])
}

// ReadMarkdown reads a list from a Markdown task list: headings become phases,
// tasks items, and bullets under a task that name a field ("why: …") that
// field. Other text is passed over. Ids that are not given are made of the
// words.
func ReadMarkdown(name string, data []byte) (checklist.List, []form.Problem) {
	m := markdown{ids: names{}, file: name}
	switch {
	case len(data) > maxBytes:
		m.wrong(0, "has %d bytes; %d are allowed", len(data), maxBytes)
	case !utf8.Valid(data):
		m.wrong(0, "is not UTF-8 text")
	default:
		lines := strings.Split(strings.TrimPrefix(string(data), "\ufeff"), "\n")
		for n, line := range lines {
			if m.parts > maxItems || len(m.mistakes) > maxProblems {
				m.wrong(n, "has more than %d headings and tasks", maxItems)
				break
			}
			m.line(n+1, strings.TrimRight(line, " \t\r"))
		}
		m.finish()
	}
	return m.list, m.mistakes
}

type markdown struct {
	file     string
	list     checklist.List
	mistakes []form.Problem
	ids      names
	phases   names
	parts    int  // headings and tasks so far
	open     bool // whether the last line was part of a task
}

func (m *markdown) wrong(line int, format string, args ...any) {
	report(&m.mistakes, m.file, line, format, args...)
}

func (m *markdown) line(n int, line string) {
	if h := heading.FindStringSubmatch(line); h != nil {
		m.heading(h[1], h[2])
		return
	}
	if t := task.FindStringSubmatch(line); t != nil {
		m.task(t[1])
		return
	}
	b := bullet.FindStringSubmatch(line)
	if b == nil {
		m.open = m.open && line == ""
		return
	}
	name, value, named := strings.Cut(b[2], ": ")
	switch {
	case !named:
	case m.open && len(b[1]) >= 2:
		m.itemField(n, name, value)
	case len(m.list.Phases) == 0:
		for _, f := range listFields(&m.list) {
			if strings.EqualFold(f.name, strings.TrimSpace(name)) {
				if err := f.set(strings.TrimSpace(value)); err != nil {
					m.wrong(n, "%v", err)
				}
			}
		}
	}
}

func (m *markdown) heading(level, words string) {
	m.parts++
	m.open = false
	if level == "#" && m.list.Title == "" && len(m.list.Phases) == 0 {
		m.list.Title = words
		return
	}
	phase := checklist.Phase{Title: words}
	if id := phaseID.FindStringSubmatch(words); id != nil {
		phase.Title, phase.ID = id[1], id[2]
	} else {
		phase.ID = m.phases.of(words, "phase")
	}
	m.list.Phases = append(m.list.Phases, phase)
}

func (m *markdown) task(words string) {
	if len(m.list.Phases) == 0 {
		m.list.Phases = append(m.list.Phases,
			checklist.Phase{ID: m.phases.of("checklist", "phase"), Title: "Checklist"})
	}
	m.parts++
	var item checklist.Item
	item.Challenge, item.Response = splitTask(words)
	last := &m.list.Phases[len(m.list.Phases)-1]
	last.Items = append(last.Items, item)
	m.open = true
}

func (m *markdown) itemField(n int, name, value string) {
	items := m.list.Phases[len(m.list.Phases)-1].Items
	c, known := columnNamed(strings.TrimSpace(name))
	if !known {
		m.wrong(n, "%q is no field of an item; known: %s", form.Clip(name), columnNames())
		return
	}
	if err := c.add(&items[len(items)-1], value); err != nil {
		m.wrong(n, "%v", err)
	}
}

// finish drops headings without tasks, and names items that have no id.
func (m *markdown) finish() {
	kept := m.list.Phases[:0]
	for _, phase := range m.list.Phases {
		for i := range phase.Items {
			if item := &phase.Items[i]; item.ID == "" {
				item.ID = m.ids.of(item.Challenge, "item")
			}
		}
		if len(phase.Items) > 0 {
			kept = append(kept, phase)
		}
	}
	m.list.Phases = kept
	if len(kept) == 0 && len(m.mistakes) == 0 {
		m.wrong(0, "has no task such as “- [ ] Brakes — set”")
	}
}
