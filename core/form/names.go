package form

import (
	"bytes"
	"encoding/json"
	"reflect"
	"strconv"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"
)

// Exact refuses a JSON text that two readers could read differently: a name twice in
// one object, and a field of v under another case of its name; v may be nil. where is
// what the text is called.
func Exact(where string, data []byte, v any) error {
	under := func(path string) string { return strings.Trim(where+dotted(path), ".") }
	if name, at := Doubled(data); name != "" {
		inside := FieldAt(data, at)
		if inside != "" {
			inside += "."
		}
		return Bad(under(inside+name), "stands there twice: one reader would take the one, another the other")
	}
	if v == nil {
		return nil
	}
	if path, want := Misnamed(data, v); path != "" {
		return Bad(under(path), "must be written %s", want)
	}
	return nil
}

// Doubled finds an object of a JSON text that has one name twice, or two names that
// differ in case only: one reader takes the first, another the last, so that the text
// says two things. name is empty when there is none; at is where its second one begins.
// The text must be valid JSON that nests no deeper than MaxDepth.
func Doubled(data []byte) (name string, at int) {
	type object struct {
		names map[string]struct{} // kept for the next object of the same depth
		is    bool                // an object and not an array
		key   bool                // the next string is a name
	}
	var open []object
	depth := 0
	for i := 0; i < len(data); i++ {
		switch data[i] {
		case '{', '[':
			if depth == len(open) {
				open = append(open, object{})
			}
			o := &open[depth]
			clear(o.names)
			o.is, o.key = data[i] == '{', data[i] == '{'
			depth++
		case '}', ']':
			depth = max(depth-1, 0)
		case ',':
			if depth > 0 {
				open[depth-1].key = open[depth-1].is
			}
		case '"':
			from := i
			for i++; i < len(data) && data[i] != '"'; i++ {
				if data[i] == '\\' {
					i++
				}
			}
			if depth == 0 || !open[depth-1].key {
				continue
			}
			o := &open[depth-1]
			o.key = false
			text := data[from+1 : min(i, len(data))]
			folded := fold(text)
			if _, twice := o.names[folded]; twice {
				return Clip(unquoted(text)), from
			}
			if o.names == nil {
				o.names = map[string]struct{}{}
			}
			o.names[folded] = struct{}{}
		}
	}
	return "", 0
}

// unquoted is the inside of a JSON string without its escapes.
func unquoted(text []byte) string {
	if bytes.IndexByte(text, '\\') < 0 {
		return string(text)
	}
	if s, err := strconv.Unquote(`"` + string(text) + `"`); err == nil {
		return s
	}
	var s string
	_ = json.Unmarshal([]byte(`"`+string(text)+`"`), &s) // what is no text is a name of its own
	return s
}

// fold brings names that differ in case only to one form, as encoding/json does.
func fold(text []byte) string {
	return strings.Map(func(r rune) rune {
		if r < utf8.RuneSelf {
			return unicode.ToUpper(r)
		}
		for { // the smallest of those that are one letter
			next := unicode.SimpleFold(r)
			if next <= r {
				return next
			}
			r = next
		}
	}, unquoted(text))
}

// Misnamed finds a member of a JSON text that is a field of v but for the case of its
// name: encoding/json takes it for the field, and the screens do not. path is empty when
// there is none. What reads itself from JSON is left to itself.
func Misnamed(data []byte, v any) (path, want string) {
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	var tree any
	if d.Decode(&tree) != nil {
		return "", ""
	}
	return misnamed(tree, reflect.TypeOf(v))
}

var readsItself = reflect.TypeFor[json.Unmarshaler]()

func misnamed(v any, t reflect.Type) (path, want string) {
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if reflect.PointerTo(t).Implements(readsItself) {
		return "", ""
	}
	switch v := v.(type) {
	case []any:
		if t.Kind() != reflect.Slice && t.Kind() != reflect.Array {
			return "", ""
		}
		for i, one := range v {
			if path, want = misnamed(one, t.Elem()); path != "" {
				return "[" + strconv.Itoa(i) + "]" + dotted(path), want
			}
		}
	case map[string]any:
		for name, one := range v {
			inner := t
			switch t.Kind() {
			case reflect.Map:
				inner = t.Elem()
			case reflect.Struct:
				var exact bool
				if inner, want, exact = fieldOf(t, name); inner == nil {
					continue
				} else if !exact {
					return Clip(name), want
				}
			default:
				return "", ""
			}
			if path, want = misnamed(one, inner); path != "" {
				return Clip(name) + dotted(path), want
			}
		}
	}
	return "", ""
}

func dotted(path string) string {
	if strings.HasPrefix(path, "[") {
		return path
	}
	return "." + path
}

// fields are those of a struct as JSON names them, each with its type, and the names in
// one case.
type fields struct {
	exact  map[string]reflect.Type
	folded map[string]string
}

// known keeps the fields of each struct that was looked at: there are as many as the program
// has.
var known sync.Map // of reflect.Type to *fields

func fieldsOf(t reflect.Type) *fields {
	if kept, ok := known.Load(t); ok {
		return kept.(*fields)
	}
	out := &fields{map[string]reflect.Type{}, map[string]string{}}
	for _, f := range reflect.VisibleFields(t) {
		as, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		if as == "-" || !f.IsExported() || f.Anonymous && f.Tag.Get("json") == "" {
			continue
		}
		if as == "" {
			as = f.Name
		}
		out.exact[as], out.folded[fold([]byte(as))] = f.Type, as
	}
	known.Store(t, out)
	return out
}

// fieldOf is the type of a struct's member of a name, and the name as the struct has it.
func fieldOf(t reflect.Type, name string) (of reflect.Type, want string, exact bool) {
	f := fieldsOf(t)
	if of, exact = f.exact[name]; exact {
		return of, name, true
	}
	quoted, _ := json.Marshal(name) // a text
	want = f.folded[fold(quoted[1:len(quoted)-1])]
	return f.exact[want], want, false
}
