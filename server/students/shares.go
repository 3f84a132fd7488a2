package students

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

// Shares are the shares of a student's record.
type Shares struct {
	Shares []store.RecordShare `json:"shares" doc:"the newest first, with who looked"`
}

type shareInput struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Whom string `json:"whom" minLength:"1" maxLength:"200" doc:"whom it is for"`
		Days int    `json:"days" minimum:"1" maximum:"90"`
	}
}

// Shared is a share that was just made. Its code is shown this once.
type Shared struct {
	ID   string `json:"id"`
	Path string `json:"path" doc:"of the page at this address"`
	Code string `json:"code"`
}

// SharedInput opens a share: by its link's ids, its code, and a name.
type SharedInput struct {
	School string `path:"school" format:"uuid"`
	ID     string `path:"id" format:"uuid"`
	Body   struct {
		Code string `json:"code" minLength:"1" maxLength:"40"`
		Name string `json:"name" minLength:"1" maxLength:"200" doc:"who looks; the student and the school see it"`
		// Lesson asks for the record of one lesson, as a file.
		Lesson string `json:"lesson,omitempty" format:"uuid"`
	}
}

// SharedView is what a share shows.
type SharedView struct {
	School string              `json:"school"`
	Until  time.Time           `json:"until"`
	View   reports.StudentView `json:"view"`
}

func (s Handlers) shareRoutes() {
	api.Handle(s.API, api.Route{
		ID: "share-record", For: access.Practising, Method: http.MethodPost, Path: "/students/{id}/shares",
		Summary: "Share a student's record by a link and a code", MaxBodyBytes: 4 << 10,
	}, s.shareRecord)
	api.Handle(s.API, api.Route{
		ID: "shares", For: access.Practising, Method: http.MethodGet, Path: "/students/{id}/shares",
		Summary: "The shares of a student's record, and who looked",
	}, s.shares)
	api.Handle(s.API, api.Route{
		ID: "withdraw-share", For: access.Practising, Method: http.MethodPost,
		Path: "/students/{id}/shares/{share}/withdraw", Summary: "End a share", Status: http.StatusNoContent,
	}, s.withdrawShare)
	api.Handle(s.API, api.Route{
		ID: "shared", For: access.Anyone, Method: http.MethodPost, Path: "/shared/{school}/{id}",
		Summary: "Look at a shared record", MaxBodyBytes: 4 << 10,
	}, s.shared)
	api.Handle(s.API, api.Route{
		ID: "shared-record", For: access.Anyone, Method: http.MethodPost, Path: "/shared/{school}/{id}/record",
		Summary: "A lesson of a shared record, as a file that proves itself", MaxBodyBytes: 4 << 10,
	}, s.sharedRecord)
}

func (s Handlers) shareRecord(ctx context.Context, w api.Person, in *shareInput) (*struct{ Body Shared }, error) {
	code, hash, err := api.FreshCode()
	if err != nil {
		return nil, err
	}
	id := api.NewID()
	now := s.Now()
	err = s.In(ctx, w, func(tx *store.Tx) error {
		if err := s.MayRead(tx, w, in.ID); err != nil {
			return err
		}
		if _, err := tx.Student(in.ID); err != nil {
			return err
		}
		return tx.AddRecordShare(store.RecordShare{
			ID: id, StudentID: in.ID, Whom: in.Body.Whom, Code: hash, Until: now.AddDate(0, 0, in.Body.Days),
			MadeBy: w.Account, MadeAt: now,
		})
	})
	if err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "record shared", in.ID)
	return &struct{ Body Shared }{Shared{id, "/shared/" + w.School + "/" + id, code}}, nil
}

func (s Handlers) shares(ctx context.Context, w api.Person, in *api.ID) (*struct{ Body Shares }, error) {
	out := &struct{ Body Shares }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		if err := s.MayRead(tx, w, in.ID); err != nil {
			return err
		}
		out.Body.Shares, err = tx.RecordShares(in.ID)
		return err
	})
}

func (s Handlers) withdrawShare(ctx context.Context, w api.Person, in *struct {
	ID    string `path:"id" format:"uuid"`
	Share string `path:"share" format:"uuid"`
}) (*struct{}, error) {
	err := s.In(ctx, w, func(tx *store.Tx) error {
		if err := s.MayRead(tx, w, in.ID); err != nil {
			return err
		}
		share, err := tx.RecordShare(in.Share)
		if err == nil && share.StudentID != in.ID {
			err = store.ErrNotFound
		}
		if err != nil {
			return err
		}
		return tx.WithdrawShare(in.Share, w.Account, s.Now())
	})
	if err == nil {
		s.Audit(ctx, w, "share withdrawn", in.ID)
	}
	return nil, err
}

// opened holds a code against a share, and gives who looks as somebody at its
// school. What is wrong, over or withdrawn gives the same answer.
func (s Handlers) opened(ctx context.Context, in *SharedInput, what string) (w api.Person, share store.RecordShare,
	err error) {
	err = s.Store.In(ctx, in.School, func(_ context.Context, tx *store.Tx) (err error) {
		w = api.Person{School: in.School, Roles: access.Roles{access.Examiner}, Zone: tx.Zone}
		share, err = tx.RecordShare(in.ID)
		return err
	})
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return w, share, err
	}
	closed := huma.Error404NotFound("This link and code do not open a record: the code is another, its time is " +
		"over, or it was withdrawn.")
	switch err := s.Guess(ctx, api.ToShare, in.ID, share.Code, strings.ToUpper(strings.TrimSpace(in.Body.Code))); {
	case errors.Is(err, api.ErrWrong):
		return w, share, closed
	case err != nil:
		return w, share, err
	case !share.Open(s.Now()):
		return w, share, closed
	}
	err = s.Store.In(ctx, in.School, func(_ context.Context, tx *store.Tx) error {
		return tx.NoteLook(in.ID, store.Look{At: s.Now(), Name: in.Body.Name, What: what})
	})
	return w, share, err
}

func (s Handlers) shared(ctx context.Context, _ api.Person, in *SharedInput) (*struct{ Body SharedView }, error) {
	w, share, err := s.opened(ctx, in, "the record")
	if err != nil {
		return nil, err
	}
	out := &struct{ Body SharedView }{SharedView{Until: share.Until}}
	err = s.In(ctx, w, func(tx *store.Tx) (err error) {
		if out.Body.View, err = s.Reports.Student(tx, share.StudentID, s.Today(w), time.Time{}); err != nil {
			return err
		}
		out.Body.School, err = tx.SchoolName()
		return err
	})
	return out, err
}

func (s Handlers) sharedRecord(ctx context.Context, _ api.Person, in *SharedInput) (*api.File, error) {
	w, share, err := s.opened(ctx, in, "lesson "+in.Body.Lesson)
	if err != nil {
		return nil, err
	}
	out := &api.File{ContentType: "application/json"}
	err = s.In(ctx, w, func(tx *store.Tx) error {
		l, err := tx.Lesson(in.Body.Lesson)
		if err == nil && l.StudentID != share.StudentID {
			err = store.ErrNotFound
		}
		if err != nil {
			return err
		}
		file, found, err := tx.Export(l.ID, s.Now())
		out.Body = file
		out.Disposition = fmt.Sprintf(`attachment; filename="record-%s-%s.json"`, found.Record.Lesson.Day,
			found.Record.Lesson.Aircraft)
		return err
	})
	return out, err
}
