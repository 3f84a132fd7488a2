package lessons

import (
	"cmp"
	"context"
	"encoding/json"
	"net/http"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/server/api"
	"jetprimer/store"
)

type openRunInput struct {
	Registration string `path:"registration" maxLength:"20"`
	Body         struct {
		ID     string `json:"id" format:"uuid" doc:"the id that the run is to have"`
		Event  string `json:"event" format:"uuid" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-7" doc:"the id of its opening event, a UUID of version 7"`
		Device string `json:"device" minLength:"1" maxLength:"64" doc:"the device that it is worked on"`
		// Item is the finding's.
		Item string `json:"item,omitempty" maxLength:"64" doc:"the item that is looked at first"`
		OAT  string `json:"oat,omitempty" maxLength:"16" doc:"outside air temperature as typed, in your unit"`
		QNH  string `json:"qnh,omitempty" maxLength:"16" doc:"pressure setting as typed, hPa or inHg"`
	}
}

// RetestsView is what a finding rests on, and the runs since, each held to it.
type RetestsView struct {
	Failed []string          `json:"failed" doc:"the checks that failed; a run must answer each where they ground the aircraft"`
	Runs   []store.RunRetest `json:"runs" doc:"the newest first"`
}

type retestsInput struct {
	Lesson string `path:"lesson" format:"uuid"`
	Event  string `path:"event" format:"uuid"`
}

func (s Handlers) runRoutes() {
	api.Handle(s.API, api.Route{
		ID: "open-run", For: access.Roles{access.Maintenance, access.Chief}, Method: http.MethodPost,
		Path:    "/aircraft/{registration}/runs",
		Summary: "Open a maintenance run: the aircraft's measured checks, without student and grade",
		Status:  http.StatusNoContent, MaxBodyBytes: 4 << 10,
	}, s.openRun)
	api.Handle(s.API, api.Route{
		ID: "retests", For: access.Roles{access.Maintenance, access.Chief}, Method: http.MethodGet,
		Path: "/findings/{lesson}/{event}/retests", Summary: "What a finding rests on, and the maintenance runs since",
	}, s.retests)
}

// openRun opens a maintenance run by the list that is in force today.
func (s Handlers) openRun(ctx context.Context, w api.Person, in *openRunInput) (*struct{}, error) {
	b, now := in.Body, s.Now()
	err := s.In(ctx, w, func(tx *store.Tx) error {
		day := tx.Day(now)
		a, err := tx.OneAircraft(in.Registration, day)
		if err != nil {
			return err
		}
		desk, err := tx.Desk(a.Type, day, "")
		if err != nil {
			return err
		}
		if len(desk.Lists) == 0 {
			return form.Problem{Field: "registration", Reason: "has no checklist in force"}
		}
		decided, err := tx.Policy(day)
		if err != nil {
			return err
		}
		opened, err := lesson.RunChoice{By: w.Account, Aircraft: a.Registration, Equipment: a.Equipment,
			ElevationFt: a.ElevationFt, Date: day,
			Day:   checklist.TypedDay{OAT: b.OAT, QNH: b.QNH, Units: w.Units()},
			Scale: cmp.Or(append(decided.Scales, "")...), First: b.Item,
			List: desk.Lists[0], Type: desk.Type, Over: desk.Layers}.Opened()
		if err != nil {
			return err
		}
		payload, err := json.Marshal(opened)
		if err != nil {
			return err
		}
		answers, err := tx.Accept(b.ID, []lesson.Event{
			{
				ID: b.Event, Device: b.Device, Seq: 1, Counter: 1, Wall: now.UTC().Format(time.RFC3339),
				Kind: lesson.KindOpened, V: 1, Payload: payload,
			},
		},
			store.Sender{ID: w.Account, Roles: w.Roles, Asks: true}, now)
		if err == nil && answers[0].Status == "refused" {
			err = form.Problem{Field: "body", Reason: answers[0].Reason}
		}
		return err
	})
	if err == nil {
		s.Audit(ctx, w, "maintenance run opened", in.Registration+" "+b.ID)
	}
	return nil, err
}

func (s Handlers) retests(ctx context.Context, w api.Person, in *retestsInput) (*struct{ Body RetestsView }, error) {
	out := &struct{ Body RetestsView }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body.Failed, out.Body.Runs, err = tx.Retests(in.Lesson, in.Event)
		for i := range out.Body.Runs {
			out.Body.Runs[i].Retest.Words = w.Units().Say(out.Body.Runs[i].Retest.Words)
		}
		return err
	})
}
