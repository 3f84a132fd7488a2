package main

import (
	"errors"
	"fmt"

	"github.com/spf13/cobra"

	"jetprimer/dataexport"
	"jetprimer/server"
	"jetprimer/store"
)

func exportDataCommand() *cobra.Command {
	var of from
	var school, folder string
	cmd := &cobra.Command{
		Use:   "export-data",
		Short: "The school's data as a folder of CSV tables, for a spreadsheet or statistics",
		Long: "Writes the people, aircraft, lessons, items, readings, findings, observations, standings and " +
			"bookings of a school\n" +
			"as of one moment into a folder: one CSV file a table, and a datapackage.json that describes every " +
			"table and column\n" +
			"(a tabular data package). It holds personal data, and is no backup: export-school moves a school, " +
			"backup keeps a\n" +
			"database.",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if folder == "" {
				return &unusableError{errors.New("--folder must be given: a folder that does not exist yet")}
			}
			return of.with(cmd.Context(), func(s *store.Store) error {
				id, err := oneSchool(cmd.Context(), s, school)
				if err != nil {
					return err
				}
				if err := dataexport.Write(cmd.Context(), s, id, folder, server.Version, func(table string, rows int) {
					fmt.Fprintf(cmd.ErrOrStderr(), "%s: %d rows\n", table, rows)
				}); err != nil {
					return err
				}
				fmt.Fprintf(cmd.OutOrStdout(), "the school's data is in %s\n", folder)
				return nil
			})
		},
	}
	of.flags(cmd)
	cmd.Flags().StringVar(&school, "school", "", "id of the school; it may be left out where there is only one")
	cmd.Flags().StringVar(&folder, "folder", "", "folder to write, which may not exist yet")
	return cmd
}
