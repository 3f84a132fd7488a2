package main

import (
	"context"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"jetprimer/core/quantity"
	"jetprimer/core/record"
	"jetprimer/exchange"
	"jetprimer/store"
)

func verifyCommand() *cobra.Command {
	var key, head string
	cmd := &cobra.Command{
		Use:   "verify FILE",
		Short: "Prove an exported record by itself, without a database",
		Long: "Reads a record, or standard input for -, and proves it: exit 0 and one line that says what was " +
			"signed by whom,\n" +
			"or exit 1 and what differs. A file cannot tell whose key signed it: hold the key's id to the one that the\n" +
			"school shows, or give it with --key.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			in := cmd.InOrStdin()
			if args[0] != "-" {
				file, err := os.Open(args[0])
				if err != nil {
					return err
				}
				defer file.Close()
				in = file
			}
			data, err := io.ReadAll(io.LimitReader(in, record.MaxBytes+1))
			if err != nil {
				return err
			}
			found, err := record.Verify(data)
			if err != nil {
				return err
			}
			if err := asExpected(found, key, head); err != nil {
				return err
			}
			_, err = fmt.Fprintln(cmd.OutOrStdout(), found.Line())
			return err
		},
	}
	cmd.Flags().StringVar(&key, "key", "",
		"fingerprint of the key that the school says is its own, 64 hexadecimal digits, or its id, the first 16 of them")
	cmd.Flags().StringVar(&head, "head", "", "head of the school's chain, as it was noted when the record was exported")
	return cmd
}

// asExpected holds a record to what somebody noted elsewhere.
func asExpected(found record.Found, key, head string) error {
	is := func(id string) bool {
		public, err := hex.DecodeString(found.Record.Keys[id])
		return key == "" || key == id || err == nil && key == record.Fingerprint(public)
	}
	if id := found.Record.Proof.KeyID; !is(id) {
		return fmt.Errorf("the record is signed with key %s, not with %s", id, key)
	}
	for _, s := range found.Signed {
		if !is(s.KeyID) {
			return fmt.Errorf("seal %d is signed with key %s, not with %s", s.Number, s.KeyID, key)
		}
	}
	if head != "" && found.Record.Head.Hash != head {
		return fmt.Errorf("the record names %s as the head of the chain, not %s", found.Record.Head.Hash, head)
	}
	return nil
}

func rotateKeyCommand() *cobra.Command {
	return inSchool("rotate-key",
		"Make the key that signs a school's records from now on; older signatures keep proving",
		func(cmd *cobra.Command, s *store.Store, school string) error {
			var fingerprint string
			err := s.In(cmd.Context(), school,
				func(_ context.Context, tx *store.Tx) (err error) {
					fingerprint, err = tx.RotateKey(time.Now())
					return err
				})
			if err == nil {
				fmt.Fprintf(cmd.OutOrStdout(), "key %.16s signs from now on; its fingerprint is %s\n", fingerprint,
					fingerprint)
			}
			return err
		})
}

func exportRecordCommand() *cobra.Command {
	var lesson, as string
	cmd := inSchool("export-record",
		"Write the record of a signed lesson as a file that proves itself, or as a grade sheet",
		func(cmd *cobra.Command, s *store.Store, school string) error {
			var out []byte
			err := s.In(cmd.Context(), school, func(_ context.Context, tx *store.Tx) error {
				file, found, err := tx.Export(lesson, time.Now())
				if err == nil && as == "pdf" {
					file, err = exchange.WriteGradeSheet(found, quantity.Units{})
				}
				out = file
				return err
			})
			if errors.Is(err, store.ErrNotFound) {
				return fmt.Errorf("there is no lesson %s in school %s", lesson, school)
			}
			if err != nil {
				return err
			}
			_, err = cmd.OutOrStdout().Write(out)
			return err
		})
	cmd.Flags().StringVar(&lesson, "lesson", "", "id of the lesson")
	cmd.Flags().StringVar(&as, "as", "json", "json, or pdf for the grade sheet")
	_ = cmd.MarkFlagRequired("lesson")
	return cmd
}
