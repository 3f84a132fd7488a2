package main

import (
	"errors"
	"fmt"

	"github.com/spf13/cobra"

	"jetprimer/notebook"
	"jetprimer/server"
	"jetprimer/store"
)

func exportDataCommand() *cobra.Command {
	var of from
	var school, file string
	cmd := &cobra.Command{
		Use:   "export-data",
		Short: "The school's data as one SQLite file, for a spreadsheet or a notebook",
		Long: "Writes the people, aircraft, lessons, items, readings, findings, observations, standings and bookings of a school\n" +
			"as of one moment into one SQLite file. Its table columns_of says what every table and column is. It holds personal\n" +
			"data, and is no backup: export-school moves a school, backup keeps a database.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if file == "" {
				return &unusableError{errors.New("--file must be given: a file that is not there yet")}
			}
			return of.with(cmd.Context(), func(s *store.Store) error {
				id, err := oneSchool(cmd.Context(), s, school)
				if err != nil {
					return err
				}
				if err := notebook.Write(cmd.Context(), s, id, file, server.Version, func(table string, rows int) {
					fmt.Fprintf(cmd.ErrOrStderr(), "%s: %d rows\n", table, rows)
				}); err != nil {
					return err
				}
				fmt.Fprintf(cmd.OutOrStdout(), "the school's data is in %s\n", file)
				return nil
			})
		},
	}
	of.flags(cmd)
	cmd.Flags().StringVar(&school, "school", "", "id of the school; it may be left out where there is only one")
	cmd.Flags().StringVar(&file, "file", "", "file to write, which may not be there yet")
	return cmd
}
