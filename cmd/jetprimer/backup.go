package main

import (
	"context"
	"errors"
	"fmt"
	"os"

	"filippo.io/age"
	"github.com/spf13/cobra"

	"jetprimer/store"
	"jetprimer/store/backup"
)

// kept is which database a backup is of: one by its owner's URL, or the private
// one of a folder.
type kept struct{ owner, dir string }

func (k *kept) flags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&k.owner, "owner-database", "", "PostgreSQL URL of the owner's role")
	cmd.Flags().StringVar(&k.dir, "data", "", "folder of a private database, as jetprimer up has it; it may be running")
	cmd.MarkFlagsMutuallyExclusive("owner-database", "data")
}

// with runs something on the database by its owner's URL.
func (k kept) with(ctx context.Context, run func(owner string) error) error {
	switch {
	case k.owner != "":
		return run(k.owner)
	case k.dir == "":
		return errors.New("--owner-database or --data must be given")
	}
	owner, _, _, err := running(k.dir)
	if err != nil {
		return err
	}
	if owner != "" {
		return run(owner)
	}
	return provisioned(ctx, k.dir, func(_ context.Context, owner, _ string, _ secrets) error { return run(owner) })
}

func backupCommand() *cobra.Command {
	var of kept
	var to []string
	cmd := &cobra.Command{
		Use:   "backup FILE",
		Short: "Keep the whole database in one file, while people work in it",
		Long: "Keep the whole database in one file, while people work in it.\n\n" +
			"The secret that opens the schools' signing keys is not in it: keep JETPRIMER_SECRET, or the folder's " +
			"secrets.json, apart from it.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			var recipients []age.Recipient
			for _, text := range to {
				r, err := age.ParseX25519Recipient(text)
				if err != nil {
					return &unusableError{fmt.Errorf("--recipient %q is no public key of age: %w", text, err)}
				}
				recipients = append(recipients, r)
			}
			if err := of.with(cmd.Context(),
				func(owner string) error {
					return backup.Write(cmd.Context(), owner, args[0],
						recipients...)
				}); err != nil {
				return err
			}
			info, err := os.Stat(args[0])
			if err == nil {
				fmt.Fprintf(cmd.OutOrStdout(), "%s, %d bytes\n", args[0], info.Size())
			}
			return err
		},
	}
	of.flags(cmd)
	cmd.Flags().StringSliceVar(&to, "recipient", nil,
		"public key of age that the file is encrypted to, such as age1…; may be given again")
	return cmd
}

func restoreCommand() *cobra.Command {
	var of kept
	var keys string
	cmd := &cobra.Command{
		Use:   "restore FILE",
		Short: "Bring a backup back into an empty database, all of it or nothing",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			var identities []age.Identity
			if keys != "" {
				f, err := os.Open(keys)
				if err != nil {
					return err
				}
				defer f.Close()
				if identities, err = age.ParseIdentities(f); err != nil {
					return &unusableError{fmt.Errorf("%s holds no key of age: %w", keys, err)}
				}
			}
			return of.with(cmd.Context(), func(owner string) error {
				if err := backup.Restore(cmd.Context(), owner, args[0], identities...); err != nil {
					return err
				}
				if err := store.Migrate(cmd.Context(), owner); err != nil {
					return err
				}
				fmt.Fprintln(cmd.OutOrStdout(),
					"The database is back, at the schema of this program. It opens with the secret that it was kept under.")
				return nil
			})
		},
	}
	of.flags(cmd)
	cmd.Flags().StringVar(&keys, "identity", "", "file of the key that opens the backup, as age-keygen writes it")
	return cmd
}
