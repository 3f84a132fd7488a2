//go:build js && wasm

// Package main is core for the browser: compiled to WebAssembly it gives a
// tablet without signal the very verdicts that the school's record will hold.
// It sets one global, jetprimerRules, whose functions take and return JSON
// text; an answer is {"ok": …} or {"error": "…"}.
package main

import (
	"encoding/json"
	"errors"
	"syscall/js"

	"jetprimer/core/aircraft"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
)

// open is the lesson being worked on, held decoded, and its aircraft type.
var (
	open     *lesson.Lesson
	openType aircraft.Type
)

func main() {
	js.Global().Set("jetprimerRules", js.ValueOf(map[string]any{
		"open":  function(openLesson),
		"apply": function(apply),
		"check": function(judge),
		"calc":  function(compute),

		"tailor":      function(tailor),
		"faults":      function(faults),
		"differences": function(differences),
	}))
	select {}
}

// function wraps fn, whose arguments and answer are JSON text.
func function(fn func(args []string) (any, error)) js.Func {
	return js.FuncOf(func(_ js.Value, values []js.Value) any {
		args := make([]string, len(values))
		for i, v := range values {
			args[i] = v.String()
		}
		answer, err := fn(args)
		if err == nil {
			var out []byte
			if out, err = json.Marshal(map[string]any{"ok": answer}); err == nil {
				return string(out)
			}
		}
		out, _ := json.Marshal(map[string]string{"error": err.Error()})
		return string(out)
	})
}

// openLesson takes a book and events, and answers the state.
func openLesson(args []string) (any, error) {
	if len(args) != 2 {
		return nil, errors.New("open takes a book and events")
	}
	var book lesson.Book
	if err := json.Unmarshal([]byte(args[0]), &book); err != nil {
		return nil, err
	}
	open, openType = lesson.New(book), book.Type
	return apply(args[1:])
}

// apply takes events into the open lesson, and answers its state and what
// became of each.
func apply(args []string) (any, error) {
	if open == nil || len(args) != 1 {
		return nil, errors.New("apply takes events, once a lesson is open")
	}
	var events []lesson.Event
	if err := json.Unmarshal([]byte(args[0]), &events); err != nil {
		return nil, err
	}
	answers := open.Add(events...)
	return map[string]any{"answers": answers, "state": open.State()}, nil
}

// judge takes a check's name, a request and the aircraft type it may name, and
// answers the verdict's own bytes. Without a type it is the open lesson's.
func judge(args []string) (any, error) {
	if len(args) != 3 {
		return nil, errors.New("check takes a name, a request and an aircraft type")
	}
	t := openType
	if args[2] != "" {
		t = aircraft.Type{}
		if err := json.Unmarshal([]byte(args[2]), &t); err != nil {
			return nil, err
		}
	}
	verdict, err := check.Run(args[0], []byte(args[1]), func(id string) (aircraft.Type, bool) { return t, id == t.ID && id != "" })
	return json.RawMessage(verdict), err
}

// compute takes a calculator's name, a request, the aircraft type it may name
// and the bands of the icing chart, and answers the answer's own bytes.
func compute(args []string) (any, error) {
	if len(args) != 4 {
		return nil, errors.New("calc takes a name, a request, an aircraft type and icing bands")
	}
	var t aircraft.Type
	tables := calc.Tables{Type: func(id string) (aircraft.Type, bool) { return t, id == t.ID && id != "" }}
	for i, into := range map[int]any{2: &t, 3: &tables.Icing} {
		if args[i] == "" {
			continue
		}
		if err := json.Unmarshal([]byte(args[i]), into); err != nil {
			return nil, err
		}
	}
	answer, err := calc.Run(args[0], []byte(args[1]), tables)
	return json.RawMessage(answer), err
}

// tailor takes a checklist.Tailoring and answers the list as flown.
func tailor(args []string) (any, error) {
	var t checklist.Tailoring
	if err := decode(args, &t); err != nil {
		return nil, err
	}
	return t.Flown()
}

// faults takes a list, a layer or a memory aid with what it refers to, and
// answers every mistake in it. The list is that of a memory aid.
func faults(args []string) (any, error) {
	var asked struct {
		Surroundings checklist.Surroundings `json:"surroundings"`
		List         *checklist.List        `json:"list"`
		Layer        *checklist.Layer       `json:"layer"`
		Aid          *checklist.Aid         `json:"aid"`
	}
	if err := decode(args, &asked); err != nil {
		return nil, err
	}
	found := []aircraft.Fault{}
	switch {
	case asked.Layer != nil:
		found = append(found, asked.Surroundings.LayerFaults(*asked.Layer)...)
	case asked.Aid != nil && asked.List != nil:
		found = append(found, asked.Surroundings.AidFaults(*asked.Aid, *asked.List)...)
	case asked.List != nil:
		found = append(found, asked.Surroundings.ListFaults(*asked.List)...)
	}
	return found, nil
}

// differences takes an older and a newer list, and answers how they differ.
func differences(args []string) (any, error) {
	var lists struct{ Older, Newer checklist.List }
	if err := decode(args, &lists); err != nil {
		return nil, err
	}
	return checklist.Differences(lists.Older, lists.Newer), nil
}

func decode(args []string, into any) error {
	if len(args) != 1 {
		return errors.New("takes one argument")
	}
	return json.Unmarshal([]byte(args[0]), into)
}
