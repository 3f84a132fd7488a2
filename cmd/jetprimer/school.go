package main

import (
	"bytes"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"jetprimer/core/form"
	"jetprimer/core/school"
	"jetprimer/server/api"
	"jetprimer/server/schools"
)

// schoolCommand gathers what a host of several schools does.
func schoolCommand() *cobra.Command {
	cmd := &cobra.Command{Use: "school", Short: "Look after the schools of a database"}
	cmd.AddCommand(createSchoolCommand())
	return cmd
}

// beginningMost bounds the file that a school is begun with, in bytes.
const beginningMost = 256 << 10

func createSchoolCommand() *cobra.Command {
	var database, secret string
	cmd := &cobra.Command{
		Use:   "create FILE",
		Short: "Begin a school as the first page does: name, zone, bases, chief instructor, aircraft, students",
		Long: "FILE is JSON in the shape of what the first page sends, without its code; - reads standard input.\n" +
			"The chief instructor's password may be left out: one is made and printed. The students' one-time codes " +
			"are printed.",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			b, err := readBeginning(cmd.InOrStdin(), args[0])
			if err != nil {
				return err
			}
			made := b.Chief.Password == ""
			if made {
				b.Chief.Password = rand.Text()[:16]
			}
			start, err := schools.NewStart(b, time.Now())
			if err != nil {
				return err
			}
			s, _, err := openStore(cmd.Context(), database, secret)
			if err != nil {
				return err
			}
			defer s.Close()
			welcomes, err := s.Begin(cmd.Context(), start)
			if err != nil {
				return err
			}
			out := cmd.OutOrStdout()
			fmt.Fprintf(out, "school %s %s\n", start.ID, start.Name)
			if made {
				fmt.Fprintf(out, "%s signs in by %s with the password %s\n", start.Chief.Name, start.Chief.Email,
					start.Chief.Password)
			}
			for _, w := range welcomes {
				fmt.Fprintf(out, "%s comes in at %s with the code %s\n", w.Name,
					api.JoinPath(start.ID, w.Invitation), w.Code)
			}
			return nil
		},
	}
	databaseFlags(cmd, &database, &secret)
	return cmd
}

func readBeginning(in io.Reader, file string) (school.Beginning, error) {
	var b school.Beginning
	if file != "-" {
		f, err := os.Open(file)
		if err != nil {
			return b, err
		}
		defer f.Close()
		in = f
	}
	text, err := io.ReadAll(io.LimitReader(in, beginningMost+1))
	if err != nil {
		return b, err
	}
	if len(text) > beginningMost {
		return b, form.Bad("file", "must have at most %d bytes", beginningMost)
	}
	d := json.NewDecoder(bytes.NewReader(text))
	d.DisallowUnknownFields()
	if err := d.Decode(&b); err != nil {
		return b, form.Bad("file", "is no beginning of a school: %v", err)
	}
	return b, nil
}
