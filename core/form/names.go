package form

import (
	"bytes"
	"encoding/json"
	"reflect"
	"strings"
	"sync"
	"unicode"
)

// Exact refuses a JSON text that two readers could read differently: a name twice in
// one object, in whatever case, and a field of v under another case of its name, which
// encoding/json takes for the field and the screens do not. v may be nil; what reads itself
// from JSON is left to itself. where is what the text is called. The text must be valid JSON.
func Exact(where string, data []byte, v any) error {
	w := walk{data: data}
	w.value(w.space(0), 0, within(reflect.TypeOf(v)))
	if w.why == "" {
		return nil
	}
	path := where
	for _, part := range []string{FieldAt(data, w.at), w.name} {
		if part != "" && !strings.HasPrefix(part, "[") && path != "" {
			path += "."
		}
		path += part
	}
	return Bad(path, "%s", w.why)
}

// walk goes through a JSON text once, without making anything of it.
type walk struct {
	data []byte
	// at, name and why are of the first name that is wrong: where it begins, what it is, and
	// what is wrong with it.
	at   int
	name string
	why  string
}

// deepest is how deep a text is looked at: what is deeper is read by nobody.
const deepest = 1000

// space is the place of the next character that is no white space.
func (w *walk) space(i int) int {
	for i < len(w.data) && (w.data[i] == ' ' || w.data[i] == '\n' || w.data[i] == '\t' || w.data[i] == '\r') {
		i++
	}
	return i
}

// text is the place behind a text that begins at i.
func (w *walk) text(i int) int {
	for i++; i < len(w.data) && w.data[i] != '"'; i++ {
		if w.data[i] == '\\' {
			i++
		}
	}
	return min(i+1, len(w.data))
}

// value goes through the value at i, which is read into a type, nil for any, and gives the
// place behind it.
func (w *walk) value(i, depth int, t reflect.Type) int {
	if i >= len(w.data) || w.why != "" || depth > deepest {
		return len(w.data)
	}
	switch w.data[i] {
	case '"':
		return w.text(i)
	case '{':
		return w.object(i, depth, t)
	case '[':
		var of reflect.Type
		if t != nil && (t.Kind() == reflect.Slice || t.Kind() == reflect.Array) {
			of = within(t.Elem())
		}
		for i = w.space(i + 1); i < len(w.data) && w.data[i] != ']'; {
			next := w.space(w.value(i, depth+1, of))
			if next == i { // no JSON
				return len(w.data)
			}
			i = next
			if i < len(w.data) && w.data[i] == ',' {
				i = w.space(i + 1)
			}
		}
		return i + 1
	}
	for i < len(w.data) && w.data[i] != ',' && w.data[i] != ']' && w.data[i] != '}' {
		i++
	}
	return i
}

func (w *walk) object(i, depth int, t reflect.Type) int {
	var seen names
	for i = w.space(i + 1); i < len(w.data) && w.data[i] == '"' && w.why == ""; {
		begins := i
		i = w.text(i)
		name := unquoted(w.data[begins+1 : max(i-1, begins+1)])
		if seen.has(name) {
			w.at, w.name, w.why = begins, Clip(string(name)), "stands there twice: one reader would take the one, "+
				"another the other"
			return len(w.data)
		}
		of := w.member(begins, name, t)
		i = w.space(i)
		if i < len(w.data) && w.data[i] == ':' {
			i = w.space(w.value(w.space(i+1), depth+1, of))
		}
		if i < len(w.data) && w.data[i] == ',' {
			i = w.space(i + 1)
		}
	}
	return i + 1
}

// member is the type that a member of an object is read into, nil for any.
func (w *walk) member(at int, name []byte, t reflect.Type) reflect.Type {
	switch {
	case t == nil:
		return nil
	case t.Kind() == reflect.Map:
		return within(t.Elem())
	case t.Kind() != reflect.Struct:
		return nil
	}
	f := fieldsOf(t)
	if of, exact := f.exact[string(name)]; exact {
		return of
	}
	for _, want := range f.names {
		if bytes.EqualFold([]byte(want), name) {
			w.at, w.name, w.why = at, Clip(string(name)), "must be written "+want
		}
	}
	return nil
}

// within is a type without its pointers; nil for one that reads itself, and for none.
func within(t reflect.Type) reflect.Type {
	for t != nil && t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if t == nil || reflect.PointerTo(t).Implements(readsItself) {
		return nil
	}
	return t
}

var readsItself = reflect.TypeFor[json.Unmarshaler]()

// names are those of one object so far: a few are compared, many looked up.
type names struct {
	few  [16][]byte
	n    int
	many map[string]struct{}
}

// has reports whether a name was there before, in whatever case, and notes it.
func (s *names) has(name []byte) bool {
	if s.many == nil {
		for _, other := range s.few[:s.n] {
			if bytes.EqualFold(other, name) {
				return true
			}
		}
		if s.n < len(s.few) {
			s.few[s.n] = name
			s.n++
			return false
		}
		s.many = map[string]struct{}{}
		for _, other := range s.few {
			s.many[fold(other)] = struct{}{}
		}
	}
	folded := fold(name)
	_, twice := s.many[folded]
	s.many[folded] = struct{}{}
	return twice
}

// unquoted is the inside of a JSON string without its escapes.
func unquoted(text []byte) []byte {
	if bytes.IndexByte(text, '\\') < 0 {
		return text
	}
	var s string
	_ = json.Unmarshal([]byte(`"`+string(text)+`"`), &s) // what is no text is a name of its own
	return []byte(s)
}

// fold brings names that differ in case only to one form, as bytes.EqualFold has it.
func fold(text []byte) string {
	return strings.Map(func(r rune) rune {
		least := r
		for next := unicode.SimpleFold(r); next != r; next = unicode.SimpleFold(next) {
			least = min(least, next)
		}
		return least
	}, string(text))
}

// fields are those of a struct as JSON names them, each with what it is read into.
type fields struct {
	exact map[string]reflect.Type
	names []string
}

// known keeps the fields of each struct that was looked at: there are as many as the program
// has.
var known sync.Map // of reflect.Type to *fields

func fieldsOf(t reflect.Type) *fields {
	if kept, ok := known.Load(t); ok {
		return kept.(*fields)
	}
	out := &fields{exact: map[string]reflect.Type{}}
	for _, f := range reflect.VisibleFields(t) {
		as, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		if as == "-" || !f.IsExported() || f.Anonymous && f.Tag.Get("json") == "" {
			continue
		}
		if as == "" {
			as = f.Name
		}
		out.exact[as] = within(f.Type)
		out.names = append(out.names, as)
	}
	known.Store(t, out)
	return out
}
