package accounts

import (
	"archive/zip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/server/api"
	"jetprimer/store"
)

func (s Handlers) personalDataRoutes() {
	api.Handle(s.API, api.Route{
		ID: "export-person", For: access.Governing, Method: http.MethodGet, Path: "/people/{id}/personal-data.zip",
		Summary: "What the school holds on a person",
	},
		func(ctx context.Context, w api.Person, in *api.ID) (*huma.StreamResponse, error) {
			return s.personalData(ctx, w, in.ID)
		})
	api.Handle(s.API, api.Route{
		ID: "export-own", For: access.Everyone, Method: http.MethodGet, Path: "/account/personal-data.zip",
		Summary: "What the school holds on me",
	},
		func(ctx context.Context, w api.Person, _ *struct{}) (*huma.StreamResponse, error) {
			return s.personalData(ctx, w, w.Account)
		})
}

// personalData gives what the school holds on a person: to be read, as JSON, and the
// record of each signed lesson of theirs. It is gathered in a file that goes with
// the answer, so that a failure on the way is told and memory does not grow.
func (s Handlers) personalData(ctx context.Context, w api.Person, id string) (*huma.StreamResponse, error) {
	done, err := w.TurnOf(ctx, s.Exporting)
	if err != nil {
		return nil, err
	}
	defer done()
	file, err := os.CreateTemp("", "jetprimer-personal-data-")
	if err != nil {
		return nil, err
	}
	_ = os.Remove(file.Name()) // it lives as long as it is open
	name := ""
	err = s.In(ctx, w, func(tx *store.Tx) error {
		held, err := tx.PersonalData(id, s.Now())
		if err != nil {
			return err
		}
		name = held.Of.Name
		if held.Sessions, err = s.Store.SessionsOf(ctx, id, w.School); err != nil {
			return err
		}
		out := zip.NewWriter(file)
		if err := add(out, "personal-data.txt",
			func(to io.Writer) error { return personalDataText(to, held, w.Zone) }); err != nil {
			return err
		}
		if err := add(out, "personal-data.json", func(to io.Writer) error {
			e := json.NewEncoder(to)
			e.SetIndent("", "  ")
			return e.Encode(held)
		}); err != nil {
			return err
		}
		for _, l := range held.Lessons {
			if l.Status != "signed" {
				continue
			}
			record, _, err := tx.Export(l.ID, s.Now())
			if err != nil {
				return err
			}
			if err := add(out, fmt.Sprintf("records/%s-%s.json", tx.Day(l.OpenedAt), l.ID),
				func(to io.Writer) error { _, err := to.Write(record); return err }); err != nil {
				return err
			}
		}
		return out.Close()
	})
	if err == nil {
		_, err = file.Seek(0, io.SeekStart)
	}
	if err != nil {
		_ = file.Close()
		return nil, err
	}
	s.Audit(ctx, w, "what is held on a person exported", id)
	return &huma.StreamResponse{Body: func(hc huma.Context) {
		defer file.Close()
		hc.SetHeader("Content-Type", "application/zip")
		hc.SetHeader("Content-Disposition",
			`attachment; filename="personal-data-`+plainName(name)+"-"+s.Today(w)+`.zip"`)
		_, _ = io.Copy(hc.BodyWriter(), file) // nobody is left to be told of a failure
	}}, nil
}

// add writes one file into an archive.
func add(out *zip.Writer, name string, write func(io.Writer) error) error {
	to, err := out.Create(name)
	if err != nil {
		return err
	}
	return write(to)
}

// plainName is a name as a file can have it.
func plainName(name string) string {
	return strings.Trim(strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return '-'
	}, strings.ToLower(name)), "-")
}

// personalDataText writes what is held to be read.
func personalDataText(to io.Writer, h store.PersonalData, zone *time.Location) error {
	var b strings.Builder
	line := func(format string, args ...any) { fmt.Fprintf(&b, format+"\n", args...) }
	at := func(t time.Time) string { return t.In(zone).Format(api.MomentFormat) }
	line("What %s holds on %s", h.School, h.Of.Name)
	line("")
	line("Address: %s", h.Of.Email)
	if h.Of.Number != "" {
		line("The school's number: %s", h.Of.Number)
	}
	line("Roles: %s", strings.Join(h.Of.Roles, ", "))
	if h.Of.Class != "" {
		line("Trains on: %s, %s, %s; since %s", h.Of.Class, h.Of.EngineKind, h.Of.StartType, h.Of.Learns.StartedOn)
	}
	if !h.Of.Active {
		line("Has left the school.")
	}
	part := func(title string, n int) {
		line("")
		line("%s: %d", title, n)
	}
	lessons := func(title string, all []store.Lesson, with func(store.Lesson) string) {
		part(title, len(all))
		for _, l := range all {
			line("  %s  %s  %s, %s, %d of %d marked", at(l.OpenedAt), l.Registration, with(l), l.Status, l.Marked,
				l.Total)
		}
	}
	lessons("Lessons taken", h.Lessons, func(l store.Lesson) string { return "with " + l.Instructor })
	lessons("Lessons given", h.Taught, func(l store.Lesson) string { return "to " + l.Student })
	part("Lessons planned", len(h.Planned))
	for _, p := range h.Planned {
		line("  %s  %s", at(p.StartsAt), p.Registration)
	}
	part("Away", len(h.Away))
	for _, a := range h.Away {
		line("  %s to %s  %s", at(a.StartsAt), at(a.EndsAt), a.Why)
	}
	part("Shifts", len(h.Shifts))
	for _, s := range h.Shifts {
		line("  on day %d of the week, %s to %s", s.Day, s.From, s.To)
	}
	part("Stands by", len(h.Standby))
	for _, s := range h.Standby {
		line("  %s to %s  %s", s.FromOn, s.ToOn, s.Words)
	}
	part("Record shared", len(h.Shares))
	for _, s := range h.Shares {
		line("  until %s", at(s.Until))
	}
	part("Signed", len(h.Signed))
	for _, s := range h.Signed {
		line("  %s  %s %s %s, seal %d", at(s.At), s.Subject, s.Student, s.Registration, s.Number)
	}
	part("Signed in at", len(h.Sessions))
	for _, s := range h.Sessions {
		line("  since %s  %s  %s", at(s.BeganAt), s.Device, s.Address)
	}
	part("Done by or to this person", len(h.Done))
	for _, d := range h.Done {
		line("  %s  %s: %s %s %s", at(d.At), d.By, d.What, d.Subject, d.Address)
	}
	line("")
	line("personal-data.json holds the same for programs; records/ holds each signed lesson as a file that proves itself.")
	_, err := io.WriteString(to, b.String())
	return err
}
