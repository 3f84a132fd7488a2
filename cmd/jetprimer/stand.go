package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"jetprimer/core/aircraft"
	"jetprimer/core/stand"
	"jetprimer/exchange"
)

func standCommand() *cobra.Command {
	var typ, scenarioFile, scriptFile, csvFile, mapFile string
	var faults []string
	var seed uint64
	cmd := &cobra.Command{
		Use:   "stand --type T --script FILE|checklist",
		Short: "Run a practice stand and judge the checks that were worked on it",
		Long: "Runs the engines of a type on a day, with faults, and works them: by a script of moves, or, with " +
			"checklist, by\n" +
			"the type's list as a good student does. Prints the checks with their verdicts and what came of the run " +
			"as JSON.\n" +
			"The same seed gives the same run. Exit 2, with the field named, when something cannot be used.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := data()
			if err != nil {
				return err
			}
			s := stand.Scenario{
				ID: "command", Title: "From the command line", Goal: "the list", Difficulty: 1, Type: typ,
				Day: stand.StandardDay,
			}
			if scenarioFile != "" {
				if s, err = readFile[stand.Scenario](scenarioFile); err != nil {
					return err
				}
				if typ != "" && typ != s.Type {
					return &unusableError{fmt.Errorf("--type is %q, and the scenario is of %q", typ, s.Type)}
				}
			}
			for _, f := range faults {
				one, err := slipped(f)
				if err != nil {
					return err
				}
				s.Faults = append(s.Faults, one)
			}
			of, known := c.Type(s.Type)
			if !known {
				return &unusableError{fmt.Errorf("--type is %q, which is no aircraft type", s.Type)}
			}
			items, err := c.FlownItems(of)
			if err != nil {
				return &unusableError{err}
			}
			var script []stand.Move
			switch scriptFile {
			case "":
				return &unusableError{errors.New("--script must be given: a file of moves, or checklist")}
			case "checklist":
			default:
				if script, err = readFile[[]stand.Move](scriptFile); err != nil {
					return err
				}
			}
			told, err := s.Work(c.Stand(), seed, items, script)
			if err != nil {
				return err
			}
			if csvFile != "" {
				if err := keepTrack(told, of, csvFile, mapFile); err != nil {
					return err
				}
			}
			return printJSON(cmd, told)
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&typ, "type", "", "aircraft type")
	flags.StringVar(&scenarioFile, "scenario", "",
		"YAML file with a scenario; a standard day without faults when left out")
	flags.StringArrayVar(&faults, "fault", nil,
		"fault to slip in, as ID or ID=SEVERITY from 0 to 1; more than once for several")
	flags.Uint64Var(&seed, "seed", 1, "another one is another shake of the needles")
	flags.StringVar(&scriptFile, "script", "", "YAML file of moves, or checklist")
	flags.StringVar(&csvFile, "csv", "", "file that what an engine recorder would keep is written to")
	flags.StringVar(&mapFile, "map", "", "file that the map of its columns is written to, as runups takes it")
	return cmd
}

// slipped reads a fault as it is given.
func slipped(text string) (stand.Slipped, error) {
	id, severity, given := strings.Cut(text, "=")
	out := stand.Slipped{Fault: id, Severity: 1}
	if !given {
		return out, nil
	}
	v, err := strconv.ParseFloat(severity, 64)
	if err != nil || !(v >= 0 && v <= 1) {
		return out, &unusableError{fmt.Errorf("--fault %s: the severity must be 0 to 1", id)}
	}
	out.Severity = v
	return out, nil
}

// readFile reads a YAML file strictly; the error names its line.
func readFile[T any](name string) (T, error) {
	var none T
	text, err := os.ReadFile(name)
	if err != nil {
		return none, &unusableError{err}
	}
	s := exchange.Open(name, text)
	out, ok := exchange.Decode[T](s)
	if !ok || s.Err() != nil {
		return none, &unusableError{s.Err()}
	}
	return out, nil
}

// keepTrack writes what a recorder would keep, and the map of its columns.
func keepTrack(told stand.Told, of aircraft.Type, csvFile, mapFile string) error {
	out, err := os.Create(csvFile)
	if err != nil {
		return &unusableError{err}
	}
	m, err := exchange.WriteRecording(out, told.Track, of)
	if err := errors.Join(err, out.Close()); err != nil {
		return err
	}
	if mapFile == "" {
		return nil
	}
	text, err := json.MarshalIndent(m, "", "  ") // JSON is YAML
	if err != nil {
		return err
	}
	return os.WriteFile(mapFile, append(text, '\n'), 0o644)
}
