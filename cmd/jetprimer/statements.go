package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"jetprimer/exchange"
	"jetprimer/learning"
	"jetprimer/store"
)

func statementsCommand() *cobra.Command {
	var of from
	var school, home, file, user string
	to := learning.RecordStore{Wait: time.Second}
	cmd := &cobra.Command{
		Use:   "statements STUDENT",
		Short: "A learner's signed lessons as xAPI statements, into a file or a record store",
		Long: "Writes a learner's signed lessons as xAPI statements (1.0.3) into a file, or sends them to a " +
			"learning-record store:\n" +
			"that each lesson was completed, the level of each item, and of each oral question. Sent again they " +
			"change nothing.\n" +
			"The password of the store is JETPRIMER_RECORD_STORE_PASSWORD.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if (file == "") == (to.Address == "") {
				return &unusableError{errors.New("either --file or --to must be given")}
			}
			return of.with(cmd.Context(), func(s *store.Store) error {
				id, err := oneSchool(cmd.Context(), s, school)
				if err != nil {
					return err
				}
				var all []exchange.Statement
				if err := s.In(cmd.Context(), id, func(_ context.Context, tx *store.Tx) (err error) {
					all, err = tx.Statements(args[0], home, false)
					return err
				}); err != nil {
					return err
				}
				if file != "" {
					if _, err := writeWhole(file, func(w io.Writer) (int, error) {
						e := json.NewEncoder(w)
						e.SetIndent("", "  ")
						return len(all), e.Encode(all)
					}); err != nil {
						return err
					}
					fmt.Fprintf(cmd.OutOrStdout(), "%d statements are in %s\n", len(all), file)
					return nil
				}
				to.User, to.Password = user, os.Getenv("JETPRIMER_RECORD_STORE_PASSWORD")
				if err := to.Send(cmd.Context(), all,
					func(held int) {
						fmt.Fprintf(cmd.ErrOrStderr(), "%d of %d statements are held\n", held,
							len(all))
					}); err != nil {
					return &unusableError{err}
				}
				fmt.Fprintf(cmd.OutOrStdout(), "%d statements are held at %s\n", len(all), to.Address)
				return nil
			})
		},
	}
	of.flags(cmd)
	cmd.Flags().StringVar(&school, "school", "", "id of the school; it may be left out where there is only one")
	cmd.Flags().StringVar(&home, "home", "https://jetprimer.invalid",
		"address of the installation, below which things have their names")
	cmd.Flags().StringVar(&file, "file", "", "file that the statements are written into")
	cmd.Flags().StringVar(&to.Address, "to", "",
		"address of the record store, such as https://records.school.example/xapi")
	cmd.Flags().StringVar(&user, "user", "", "user at the record store")
	return cmd
}

func recordStoreCommand() *cobra.Command {
	listen := "127.0.0.1:8090"
	cmd := &cobra.Command{
		Use:   "record-store FILE",
		Short: "Stand in for a learning-record store: statements are held in a file, one a line",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			s, err := learning.StartLocalStore(listen, args[0])
			if err != nil {
				return &unusableError{err}
			}
			defer s.Close()
			fmt.Fprintln(cmd.OutOrStdout(), "statements are taken at", s.URL)
			<-cmd.Context().Done()
			return nil
		},
	}
	cmd.Flags().StringVar(&listen, "listen", listen, "address to listen on")
	return cmd
}
