package server

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/school"
	"jetprimer/store"
)

// DoneView is a page of what was done in the school.
type DoneView struct {
	Lines []store.Done `json:"lines" doc:"the latest first"`
	More  bool         `json:"more" doc:"whether there are earlier ones"`
}

type doneInput struct {
	Words  string `query:"words" maxLength:"200" doc:"all of them stand somewhere in a line"`
	From   string `query:"from" maxLength:"10" doc:"the school's day"`
	Until  string `query:"until" maxLength:"10" doc:"the school's day"`
	Before int64  `query:"before" minimum:"0" doc:"the id of the last line that is known"`
}

// Bounds of what is shown of what was done, at once and in a table.
const (
	donePage  = 200
	doneTable = 50_000
)

func (s *Server) doneRoutes() {
	route(s, huma.Operation{OperationID: "done", Method: http.MethodGet, Path: "/done", Summary: "Who did what"}, s.done)
	route(s, huma.Operation{OperationID: "export-done", Method: http.MethodGet, Path: "/done.csv", Summary: "Who did what, as a table"}, s.exportDone)
}

func (in *doneInput) asked(most int) (store.Asked, error) {
	for _, err := range []error{school.CheckDay("from", in.From), school.CheckDay("until", in.Until)} {
		if err != nil {
			return store.Asked{}, err
		}
	}
	return store.Asked{Words: in.Words, From: in.From, Until: in.Until, Before: in.Before, Most: most}, nil
}

func (s *Server) done(ctx context.Context, w who, in *doneInput) (*struct{ Body DoneView }, error) {
	asked, err := in.asked(donePage + 1)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body DoneView }{}
	return out, s.in(ctx, w, func(tx *store.Tx) error {
		lines, err := tx.Done(asked)
		out.Body = DoneView{lines[:min(len(lines), donePage)], len(lines) > donePage}
		return err
	})
}

func (s *Server) exportDone(ctx context.Context, w who, in *doneInput) (*fileOutput, error) {
	asked, err := in.asked(doneTable)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"at", "by", "what", "subject", "address"}}
	if err := s.in(ctx, w, func(tx *store.Tx) error {
		lines, err := tx.Done(asked)
		for _, d := range lines {
			rows = append(rows, []string{d.At.UTC().Format(time.RFC3339), d.By, d.What, d.Subject, d.Address})
		}
		return err
	}); err != nil {
		return nil, err
	}
	s.note(ctx, w, "what was done exported", "")
	return csvTable("done-"+s.today(w), rows)
}
