package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"jetprimer/core/recorder"
	"jetprimer/exchange"
)

func runupsCommand() *cobra.Command {
	var mapFile string
	cmd := &cobra.Command{
		Use:   "runups FILE --map MAP.yaml",
		Short: "Find the run-ups in an engine recorder's file, measure and judge their checks",
		Long: "Reads a recorder's CSV by a map of its columns and prints the run-ups in it as JSON, each with its " +
			"checks as\n" +
			"requests and their verdicts, and the lines that could not be used. Exit 2, with line and column named, " +
			"when the\n" +
			"file is not what the map says.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if mapFile == "" {
				return &unusableError{errors.New("--map must be given")}
			}
			c, err := data()
			if err != nil {
				return err
			}
			text, err := os.ReadFile(mapFile)
			if err != nil {
				return &unusableError{err}
			}
			m, err := exchange.ReadRecorderMap(mapFile, text)
			if err != nil {
				return err
			}
			in, err := os.Open(args[0])
			if err != nil {
				return &unusableError{err}
			}
			defer in.Close()
			file, err := exchange.ReadRecording(in, m)
			if err != nil {
				return err
			}
			found, err := file.Judge(c.Type)
			if err != nil {
				return &unusableError{err}
			}
			return printJSON(cmd, struct {
				RunUps  []recorder.Found   `json:"runups"`
				Skipped []recorder.Skipped `json:"skipped"`
			}{found, file.Skipped})
		},
	}
	cmd.Flags().StringVar(&mapFile, "map", "", "YAML file that says which column is what")
	return cmd
}

func recordingCommand() *cobra.Command {
	var typ, mapFile string
	making := recorder.Making{Interval: 0.5, Noise: 0.001, RunUps: 1}
	cmd := &cobra.Command{
		Use:   "recording --type T --map MAP.yaml > FILE",
		Short: "Make up an engine recorder's file with known run-ups, to try runups with",
		Long: "Prints a recorder's CSV of a made-up flight, writes the map that reads it, and tells on standard " +
			"error what is\n" +
			"true in it. The same seed gives the same file.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			c, err := data()
			if err != nil {
				return err
			}
			t, known := c.Type(typ)
			switch {
			case !known || t.Ignition == "none":
				return &unusableError{fmt.Errorf("--type is %q, which is no type with an ignition check", typ)}
			case mapFile == "":
				return &unusableError{errors.New("--map must be given: where the map is written")}
			case making.RunUps < 1 || making.RunUps > 20 || making.Interval < 0.1 || making.Interval > 2 ||
				making.Noise < 0 || making.Noise > 0.003:
				return &unusableError{errors.New("--runups must be 1 to 20, --interval 0.1 to 2 s, --noise 0 to 0.003")}
			}
			made := recorder.Make(t, making)
			m, err := exchange.WriteRecording(cmd.OutOrStdout(), made.Track, t)
			if err != nil {
				return err
			}
			text, err := json.MarshalIndent(m, "", "  ") // JSON is YAML
			if err == nil {
				err = os.WriteFile(mapFile, append(text, '\n'), 0o644)
			}
			for _, run := range made.Truth {
				for _, one := range run.Measured {
					reading, _ := json.Marshal(one.Reading) // numbers and words
					fmt.Fprintf(cmd.ErrOrStderr(), "from %g s: %s %s\n", made.Seconds[run.First], one.Check, reading)
				}
			}
			return err
		},
	}
	cmd.Flags().StringVar(&typ, "type", "", "aircraft type")
	cmd.Flags().StringVar(&mapFile, "map", "", "file that the map is written to")
	cmd.Flags().Uint64Var(&making.Seed, "seed", 1, "another one is another flight")
	cmd.Flags().IntVar(&making.RunUps, "runups", making.RunUps, "how many run-ups")
	cmd.Flags().Float64Var(&making.Interval, "interval", making.Interval, "seconds between two samples")
	cmd.Flags().Float64Var(&making.Noise, "noise", making.Noise, "scatter of the speed, as a part of the run-up speed")
	return cmd
}
