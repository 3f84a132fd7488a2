package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"slices"

	"github.com/spf13/cobra"

	"jetprimer/catalog"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/lesson"
)

func checkCommand() *cobra.Command {
	return answering("check NAME < request.json", "Judge one measured check",
		"verdict as JSON. Exit 0 whatever the outcome; exit 2",
		func(c *catalog.Catalog, name string, request []byte) ([]byte, error) {
			return check.Run(name, request, c.Type)
		})
}

func calcCommand() *cobra.Command {
	return answering("calc NAME < request.json",
		"Compute: altitudes, wind, metar, carb-ice, prime, power-limit, half-way-speed, takeoff-brief, fuel-plan",
		"answer as JSON. Exit 2", func(c *catalog.Catalog, name string, request []byte) ([]byte, error) {
			return calc.Run(name, request, c.Tables())
		})
}

// answering is a command that reads one request and prints one line of JSON.
func answering(use, short, prints string,
	answer func(c *catalog.Catalog, name string, request []byte) ([]byte, error)) *cobra.Command {
	return &cobra.Command{
		Use:   use,
		Short: short,
		Long: "Reads one JSON request from standard input and prints its " + prints +
			", with the field\nnamed, when the request cannot be used.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			c, err := data()
			if err != nil {
				return err
			}
			request, err := io.ReadAll(cmd.InOrStdin())
			if err != nil {
				return err
			}
			out, err := answer(c, args[0], request)
			if err != nil {
				return err
			}
			_, err = fmt.Fprintf(cmd.OutOrStdout(), "%s\n", out)
			return err
		},
	}
}

func foldCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "fold < lesson.jsonl",
		Short: "Fold the events of a lesson, one JSON object a line, and print its state",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			events, err := readEvents(cmd.InOrStdin())
			if err != nil {
				return err
			}
			state, err := foldEvents(events)
			if err != nil {
				return err
			}
			return printJSON(cmd, state)
		},
	}
}

// readEvents reads events, one a line; blank lines are passed over.
func readEvents(r io.Reader) ([]lesson.Event, error) {
	var events []lesson.Event
	lines := bufio.NewScanner(r)
	lines.Buffer(nil, 8<<20)
	for n := 1; lines.Scan(); n++ {
		line := bytes.TrimSpace(lines.Bytes())
		if len(line) == 0 {
			continue
		}
		var e lesson.Event
		if err := json.Unmarshal(line, &e); err != nil {
			return nil, &unusableError{fmt.Errorf("line %d is no event: %w", n, err)}
		}
		events = append(events, e)
	}
	if err := lines.Err(); err != nil {
		return nil, &unusableError{err}
	}
	return events, nil
}

func foldEvents(events []lesson.Event) (lesson.State, error) {
	c, err := data()
	if err != nil {
		return lesson.State{}, err
	}
	e, opened, err := lesson.OpeningOf(events, "")
	switch {
	case err != nil && e.ID == "":
		return lesson.State{}, &unusableError{
			fmt.Errorf("no event of kind %s: nothing says which aircraft type and list to fold by", lesson.KindOpened),
		}
	case err != nil:
		return lesson.State{}, &unusableError{fmt.Errorf("the opening event: %w", err)}
	}
	book, err := lesson.BookFrom(c, e.ID, opened)
	if err != nil {
		return lesson.State{}, &unusableError{err}
	}
	l := lesson.New(book)
	answers := l.Add(events...)
	state := l.State()
	for _, a := range answers {
		known := slices.ContainsFunc(state.Refused, func(r lesson.Refusal) bool { return r.Event == a.ID })
		if a.Status == "refused" && !known {
			state.Refused = append(state.Refused, lesson.Refusal{Event: a.ID, Reason: a.Reason})
		}
	}
	return state, nil
}
