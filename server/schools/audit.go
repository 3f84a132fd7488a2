package schools

import (
	"context"
	"net/http"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/school"
	"jetprimer/server/api"
	"jetprimer/store"
)

// AuditView is a page of what was done in the school.
type AuditView struct {
	Lines []store.AuditLine `json:"lines" doc:"the latest first"`
	More  bool              `json:"more" doc:"whether there are earlier ones"`
}

type auditInput struct {
	Words  string `query:"words" maxLength:"200" doc:"all of them stand somewhere in a line"`
	From   string `query:"from" maxLength:"10" doc:"the school's day"`
	Until  string `query:"until" maxLength:"10" doc:"the school's day"`
	Before int64  `query:"before" minimum:"0" doc:"the id of the last line that is known"`
}

// Bounds of what is shown of what was done, at once and in a table.
const (
	auditPage  = 200
	auditTable = 50_000
)

func (s Handlers) auditRoutes() {
	api.Handle(s.API, api.Route{
		ID: "audit-log", For: access.Governing, Method: http.MethodGet, Path: "/audit-log", Summary: "Who did what",
	}, s.auditLog)
	api.Handle(s.API, api.Route{
		ID: "export-audit-log", For: access.Governing, Method: http.MethodGet, Path: "/audit-log.csv",
		Summary: "Who did what, as a table",
	}, s.exportAuditLog)
}

func (in *auditInput) query(most int) (store.AuditQuery, error) {
	for _, err := range []error{school.CheckDay("from", in.From), school.CheckDay("until", in.Until)} {
		if err != nil {
			return store.AuditQuery{}, err
		}
	}
	return store.AuditQuery{Words: in.Words, From: in.From, Until: in.Until, Before: in.Before, Most: most}, nil
}

func (s Handlers) auditLog(ctx context.Context, w api.Person, in *auditInput) (*struct{ Body AuditView }, error) {
	asked, err := in.query(auditPage + 1)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body AuditView }{}
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		lines, err := tx.AuditLog(asked)
		out.Body = AuditView{lines[:min(len(lines), auditPage)], len(lines) > auditPage}
		return err
	})
}

func (s Handlers) exportAuditLog(ctx context.Context, w api.Person, in *auditInput) (*api.File, error) {
	asked, err := in.query(auditTable)
	if err != nil {
		return nil, err
	}
	rows := [][]string{{"at", "by", "what", "subject", "address"}}
	if err := s.In(ctx, w, func(tx *store.Tx) error {
		lines, err := tx.AuditLog(asked)
		for _, d := range lines {
			rows = append(rows, []string{d.At.UTC().Format(time.RFC3339), d.By, d.What, d.Subject, d.Address})
		}
		return err
	}); err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "what was done exported", "")
	return api.CSVTable("done-"+s.Today(w), rows)
}
