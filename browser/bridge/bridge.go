// Package bridge is what a page asks of core: one table of functions, from which the
// browser's module, the TypeScript side and its types follow. A page has one Bridge, which
// keeps the units that its reader wants, the lesson that is open and the practice that runs.
package bridge

import (
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"strings"

	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/quantity"
)

// Bridge answers the functions of the table. Its zero value is ready; it is used by one
// goroutine at a time.
type Bridge struct {
	units quantity.Units
	open  openLesson
	// stage is the practice that runs, a *stage, of which the build for a lesson knows nothing.
	stage any
}

// Function is one function that a page asks for by its name.
type Function struct {
	Name string
	// Doc is a sentence on what it answers; the TypeScript side carries it.
	Doc string
	// Args names the arguments in order, parted by spaces. One that ends in ? may be left
	// out, and is then the zero value.
	Args string
	// Call is a method of *Bridge that takes the arguments and answers a value, an error, or
	// a value and an error.
	Call any
	// Answers is a value of what Raw bytes that it answers hold, where it answers Raw.
	Answers any
	// Long is set where a page asks its worker: what takes longer than a touch may.
	Long bool
}

// Raw is JSON text that goes to core, or comes from it, as the bytes that it is.
type Raw string

// MarshalJSON gives the text.
func (r Raw) MarshalJSON() ([]byte, error) { return []byte(r), nil }

// Functions are those of this build, in the order of the table.
func Functions() []Function { return table }

// Arg is one argument of a function.
type Arg struct {
	Name     string
	Optional bool
	Type     reflect.Type
}

// Takes lists the arguments of f.
func (f Function) Takes() []Arg {
	call := reflect.TypeOf(f.Call)
	var out []Arg
	for i, name := range strings.Fields(f.Args) {
		out = append(out, Arg{strings.TrimSuffix(name, "?"), strings.HasSuffix(name, "?"), call.In(i + 1)})
	}
	return out
}

// Gives is the type of what f answers, or nil where it answers nothing.
func (f Function) Gives() reflect.Type {
	if f.Answers != nil {
		return reflect.TypeOf(f.Answers)
	}
	if first := reflect.TypeOf(f.Call).Out(0); first != reflect.TypeFor[error]() {
		return first
	}
	return nil
}

// Ask asks a function of the table with the JSON text of each argument; an empty text is an
// argument that was left out. The answer is JSON text: {"ok": …}, or {"error", "field",
// "reason"} where core refuses, with the field that cannot be used.
func (b *Bridge) Ask(f Function, args []string) string {
	answer, err := b.call(f, args)
	if err == nil {
		var out []byte
		if out, err = json.Marshal(map[string]any{"ok": answer}); err == nil {
			return string(out)
		}
	}
	refused := map[string]string{"error": err.Error()}
	var bad form.Problem
	if errors.As(err, &bad) {
		refused["field"], refused["reason"] = bad.Field, bad.Reason
	}
	out, _ := json.Marshal(refused)
	return string(out)
}

// call decodes the arguments of f and calls it.
func (b *Bridge) call(f Function, args []string) (any, error) {
	call := reflect.ValueOf(f.Call)
	if want := call.Type().NumIn() - 1; len(args) != want {
		return nil, fmt.Errorf("%s takes %d arguments, not %d", f.Name, want, len(args))
	}
	in := []reflect.Value{reflect.ValueOf(b)}
	for i, text := range args {
		into := reflect.New(call.Type().In(i + 1))
		if raw, ok := into.Interface().(*Raw); ok {
			*raw = Raw(text)
		} else if text != "" {
			if err := json.Unmarshal([]byte(text), into.Interface()); err != nil {
				return nil, err
			}
		}
		in = append(in, into.Elem())
	}
	out := call.Call(in)
	err, failed := out[len(out)-1].Interface().(error)
	if failed {
		return nil, err
	}
	if out[0].Type() == reflect.TypeFor[error]() {
		return nil, nil
	}
	return out[0].Interface(), nil
}

// openLesson is the lesson being worked on, with the state that is shown of it.
type openLesson struct {
	session *lesson.Session
	state   lesson.State
	device  string
	seq     int64
}

// setUnits takes the units that the person reads from now on.
func (b *Bridge) setUnits(now quantity.Units) error {
	if err := now.Check(); err != nil {
		return err
	}
	b.units = now
	if b.open.session != nil {
		b.open.session.Units = now
	}
	return nil
}

// say answers a sentence in the units that the person reads.
func (b *Bridge) say(sentence string) string { return b.units.Say(sentence) }
