package exchange

import (
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/checklist"
)

// column is a field of an item, as tables and task lists name it.
type column struct {
	name string
	text func(*checklist.Item) *string
	many func(*checklist.Item) *[]string // one entry a line
	flag func(*checklist.Item) *bool     // yes, or empty
}

// columns are the fields of an item that a person writes.
var columns = []column{
	{name: "id", text: func(i *checklist.Item) *string { return &i.ID }},
	{name: "challenge", text: func(i *checklist.Item) *string { return &i.Challenge }},
	{name: "response", text: func(i *checklist.Item) *string { return &i.Response }},
	{name: "why", text: func(i *checklist.Item) *string { return &i.Why }},
	{name: "look", text: func(i *checklist.Item) *string { return &i.Look }},
	{name: "abnormal", text: func(i *checklist.Item) *string { return &i.Abnormal }},
	{name: "errors", many: func(i *checklist.Item) *[]string { return &i.Errors }},
	{name: "place", text: func(i *checklist.Item) *string { return &i.Place }},
	{name: "when", text: func(i *checklist.Item) *string { return &i.When }},
	{name: "per", text: func(i *checklist.Item) *string { return &i.Per }},
	{name: "only", text: func(i *checklist.Item) *string { return &i.Only }},
	{name: "critical", flag: func(i *checklist.Item) *bool { return &i.Critical }},
	{name: "caution", text: func(i *checklist.Item) *string { return &i.Caution }},
	{name: "after", many: func(i *checklist.Item) *[]string { return &i.After }},
	{name: "closes", text: func(i *checklist.Item) *string { return &i.Closes }},
	{name: "check", text: func(i *checklist.Item) *string { return &i.Check }},
	{name: "gauges", many: func(i *checklist.Item) *[]string { return &i.Gauges }},
	{name: "power", text: func(i *checklist.Item) *string { return &i.Power }},
	{name: "raises", text: func(i *checklist.Item) *string { return &i.Raises }},
	{name: "limit from", text: func(i *checklist.Item) *string { return &i.LimitFrom }},
	{name: "on runway", flag: func(i *checklist.Item) *bool { return &i.OnRunway }},
	{name: "needs", many: func(i *checklist.Item) *[]string { return &i.Needs }},
	{name: "starts", many: func(i *checklist.Item) *[]string { return &i.Starts }},
	{name: "stops", many: func(i *checklist.Item) *[]string { return &i.Stops }},
	{name: "timers", many: func(i *checklist.Item) *[]string { return &i.Timers }},
	{name: "elements", many: func(i *checklist.Item) *[]string { return &i.Elements }},
	{name: "knowledge", many: func(i *checklist.Item) *[]string { return &i.Knowledge }},
	{name: "no standard", text: func(i *checklist.Item) *string { return &i.NoStandard }},
}

// columnNamed finds a column; case, spaces and hyphens do not matter.
func columnNamed(name string) (column, bool) {
	plain := func(s string) string {
		return strings.ToLower(strings.NewReplacer(" ", "", "-", "", "_", "").Replace(s))
	}
	i := slices.IndexFunc(columns, func(c column) bool { return plain(c.name) == plain(name) })
	if i < 0 {
		return column{}, false
	}
	return columns[i], true
}

func columnNames() string {
	names := make([]string, len(columns))
	for i, c := range columns {
		names[i] = c.name
	}
	return strings.Join(names, ", ")
}

// get is the field's entries as text; none when it is empty.
func (c column) get(item *checklist.Item) []string {
	switch {
	case c.many != nil:
		return *c.many(item)
	case c.flag != nil:
		if *c.flag(item) {
			return []string{"yes"}
		}
		return nil
	case *c.text(item) == "":
		return nil
	}
	return []string{*c.text(item)}
}

// add puts one more entry into the field; a plain text is replaced.
func (c column) add(item *checklist.Item, entry string) error {
	entry = strings.TrimSpace(entry)
	switch {
	case entry == "":
	case c.many != nil:
		*c.many(item) = append(*c.many(item), entry)
	case c.flag != nil:
		switch strings.ToLower(entry) {
		case "yes", "true", "x", "1":
			*c.flag(item) = true
		case "no", "false", "0", "-":
			*c.flag(item) = false
		default:
			return fmt.Errorf("%s must be yes or no, not %q", c.name, entry)
		}
	default:
		*c.text(item) = entry
	}
	return nil
}

// names makes ids for phases and items that have none, of their words.
type names struct{ taken map[string]int }

func (n *names) of(words, or string) string {
	if n.taken == nil {
		n.taken = map[string]int{}
	}
	id := checklist.Slug(words)
	if id == "" {
		id = or
	}
	for {
		n.taken[id]++
		nth := n.taken[id]
		if nth == 1 {
			return id
		}
		free := fmt.Sprintf("%s-%d", id, nth)
		if nth <= 26 {
			free = fmt.Sprintf("%s-%c", id, 'a'+nth-1)
		}
		if n.taken[free] == 0 {
			n.taken[free] = 1
			return free
		}
	}
}
