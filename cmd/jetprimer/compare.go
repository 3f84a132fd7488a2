package main

import (
	"errors"
	"fmt"

	"github.com/spf13/cobra"

	"jetprimer/core/compare"
	"jetprimer/core/form"
	"jetprimer/exchange"
)

func compareCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "compare < grades.csv",
		Short: "Compare instructors fairly, from grades of students and items",
		Long: "Reads a table with the columns student, item, instructor and level (0 to 4), and scale and stage " +
			"where there\n" +
			"are several, and prints abilities, difficulties and severities as JSON, in logits. Only instructors of one\n" +
			"group are compared. Exit 2, with line and column named, when the table cannot be used.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			grades, err := exchange.ReadGrades(cmd.InOrStdin())
			if err != nil {
				return err
			}
			model, err := compare.Fit(cmd.Context(), grades, func(iteration int, change float64) {
				fmt.Fprintf(cmd.ErrOrStderr(), "iteration %d: the largest change was %.5f logits\n", iteration, change)
			})
			if err != nil {
				return err
			}
			return printJSON(cmd, model)
		},
	}
}

func trendCommand() *cobra.Command {
	var limit float64
	var above, below bool
	cmd := &cobra.Command{
		Use:   "trend --limit N (--above | --below) < readings.csv",
		Short: "Follow a repeated reading of an aircraft to its limit",
		Long: "Reads a table with the columns hours and value, and reset where maintenance worked on it just " +
			"before, and\n" +
			"prints slope, control chart and hours to the limit as JSON. With --above a reading is bad above the " +
			"limit,\n" +
			"with --below below it. Exit 2, with line and column named, when the table cannot be used.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			switch {
			case !cmd.Flags().Changed("limit"):
				return form.Bad("--limit", "is missing")
			case above == below:
				return &unusableError{errors.New("one of --above and --below must be given")}
			}
			toward := compare.Above
			if below {
				toward = compare.Below
			}
			readings, err := exchange.ReadReadings(cmd.InOrStdin())
			if err != nil {
				return err
			}
			return printJSON(cmd, compare.TrendOf(readings, limit, toward))
		},
	}
	cmd.Flags().Float64Var(&limit, "limit", 0, "what the reading is held to")
	cmd.Flags().BoolVar(&above, "above", false, "a reading above the limit is out of it")
	cmd.Flags().BoolVar(&below, "below", false, "a reading below the limit is out of it")
	return cmd
}
