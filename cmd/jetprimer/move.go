package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"jetprimer/core/form"
	"jetprimer/server/api"
	"jetprimer/store"
)

// from is which installation a school is taken out of or into: a database by the
// application's URL, or the private one of a folder.
type from struct{ database, secret, dir string }

func (f *from) flags(cmd *cobra.Command) {
	databaseFlags(cmd, &f.database, &f.secret)
	cmd.Flags().StringVar(&f.dir, "data", "", "folder of a private database, as jetprimer up has it; it may be running")
}

// with runs something on the installation's store.
func (f from) with(ctx context.Context, run func(s *store.Store) error) error {
	on := func(app, secret string) error {
		s, _, err := openStore(ctx, app, secret)
		if err != nil {
			return err
		}
		defer s.Close()
		return run(s)
	}
	if f.dir == "" {
		return on(f.database, f.secret)
	}
	_, app, kept, err := running(f.dir)
	if err != nil {
		return err
	}
	if app != "" {
		return on(app, kept.Keys)
	}
	return provisioned(ctx, f.dir, func(ctx context.Context, owner, app string, kept secrets) error {
		if err := store.Migrate(ctx, owner); err != nil {
			return err
		}
		return on(app, kept.Keys)
	})
}

// moveFlags are those of a moved school's file.
func moveFlags(cmd *cobra.Command, of *from, key *string) {
	of.flags(cmd)
	cmd.Flags().StringVar(key, "move-key", "",
		"key of the file; better given as JETPRIMER_MOVE_KEY, where nobody sees it")
}

func exportSchoolCommand() *cobra.Command {
	var of from
	var key, school string
	cmd := &cobra.Command{
		Use:   "export-school FILE",
		Short: "Take a school out as one file, with everything that it owns",
		Long: "Take a school out as one file, with everything that it owns, while people work in it.\n\n" +
			"The file is proved, and its secrets are encrypted, by a key. One is made and printed where none is " +
			"given: keep it apart from the file.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			made := key == ""
			key = cmp.Or(key, store.MoveKey())
			return of.with(cmd.Context(), func(s *store.Store) error {
				id, err := oneSchool(cmd.Context(), s, school)
				if err != nil {
					return err
				}
				m, err := writeWhole(args[0], func(w io.Writer) (store.Manifest, error) {
					return s.ExportSchool(cmd.Context(), id, key, w, progressTo(cmd))
				})
				if err != nil {
					return err
				}
				fmt.Fprintf(cmd.OutOrStdout(), "%s is in %s: %d tables, %d signatures\n", m.Name, args[0],
					len(m.Tables), m.Seals)
				if made {
					fmt.Fprintf(cmd.OutOrStdout(), "its key is %s\n", key)
				}
				return nil
			})
		},
	}
	moveFlags(cmd, &of, &key)
	cmd.Flags().StringVar(&school, "school", "", "id of the school; it may be left out where there is only one")
	return cmd
}

func importSchoolCommand() *cobra.Command {
	var of from
	var key string
	cmd := &cobra.Command{
		Use:   "import-school FILE",
		Short: "Take a school over from its file, all of it or nothing",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			f, err := os.Open(args[0])
			if err != nil {
				return err
			}
			defer f.Close()
			info, err := f.Stat()
			if err != nil {
				return err
			}
			return of.with(cmd.Context(), func(s *store.Store) error {
				m, invited, err := s.ImportSchool(cmd.Context(), f, info.Size(), key, false, time.Now(),
					api.FreshCode, progressTo(cmd))
				var why form.Problem
				if errors.As(err, &why) {
					return &unusableError{fmt.Errorf("%s: %w", args[0], err)}
				}
				if err != nil {
					return err
				}
				fmt.Fprintf(cmd.OutOrStdout(), "%s is here: its people sign in as before\n", m.Name)
				for _, w := range invited {
					fmt.Fprintf(cmd.OutOrStdout(),
						"%s has an account here already, and comes in at %s with the code %s\n", w.Name,
						api.JoinPath(m.School, w.Invitation), w.Code)
				}
				return nil
			})
		},
	}
	moveFlags(cmd, &of, &key)
	return cmd
}

// progressTo says on standard error how far it is.
func progressTo(cmd *cobra.Command) func(string, int64) {
	return func(table string, rows int64) { fmt.Fprintf(cmd.ErrOrStderr(), "%s: %d\n", table, rows) }
}

// oneSchool is the school of that id, or where none is given the only one.
func oneSchool(ctx context.Context, s *store.Store, id string) (string, error) {
	if id != "" {
		return id, nil
	}
	all, err := s.EverySchool(ctx)
	switch {
	case err != nil:
		return "", err
	case len(all) == 1:
		return all[0].ID, nil
	case len(all) == 0:
		return "", errors.New("there is no school yet")
	}
	said := "several schools are here; name one by --school:"
	for _, one := range all {
		said += fmt.Sprintf("\n%s  %s", one.ID, one.Name)
	}
	return "", &unusableError{errors.New(said)}
}

// writeWhole writes a file beside its place and puts it there once it is whole.
func writeWhole[T any](file string, write func(w io.Writer) (T, error)) (T, error) {
	var none T
	part, err := os.CreateTemp(filepath.Dir(file), filepath.Base(file)+".part-*")
	if err != nil {
		return none, err
	}
	defer os.Remove(part.Name())
	out, err := write(part)
	if err = errors.Join(err, part.Close()); err != nil {
		return none, err
	}
	return out, os.Rename(part.Name(), file)
}
