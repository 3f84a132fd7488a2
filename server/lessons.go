package server

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/catalog"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/school"
	"jetprimer/store"
)

// LessonView is a lesson with all that a screen, or the rules in the browser,
// need to go on from it.
type LessonView struct {
	Lesson     store.Lesson        `json:"lesson"`
	Book       lesson.Book         `json:"book"`
	Scale      lesson.Scale        `json:"scale"`
	ErrorKinds []lesson.ErrorKind  `json:"errorKinds"`
	People     []string            `json:"people" doc:"who can be told of a finding, maintenance first"`
	Decisions  []string            `json:"decisions"`
	Elements   map[string]string   `json:"elements" doc:"reference code or text of each standard element, by id"`
	Notes      []string            `json:"notes" doc:"what is said wherever a standards pack is used"`
	Before     int                 `json:"before" doc:"lessons the student had before this one"`
	Aids       []checklist.Aid     `json:"aids" doc:"the school's memory aids on the lesson's day"`
	Questions  []catalog.Question  `json:"questions" doc:"what can be asked orally on this type"`
	Procedures []catalog.Procedure `json:"procedures"`
	Events     []lesson.Event      `json:"events"`
	State      lesson.State        `json:"state"`
	Mine       bool                `json:"mine" doc:"whether the person may add to it and sign it"`
}

type lessonInput struct {
	ID string `path:"id" format:"uuid"`
}

type eventsInput struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Events []json.RawMessage `json:"events" minItems:"1" maxItems:"500" doc:"events in the shape of LessonEvent"`
	}
}

// Answers say what became of each event, in their order.
type Answers struct {
	Answers []lesson.Answer `json:"answers"`
}

type signInput struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Password  string `json:"password" minLength:"1" maxLength:"200" doc:"your password, again"`
		EventHash string `json:"eventHash" minLength:"64" maxLength:"64" doc:"eventHash of the state you saw"`
		Event     string `json:"event" format:"uuid" doc:"the id of the signature's event, a UUID of version 7"`
	}
}

func (s *Server) lessonRoutes() {
	route(s, huma.Operation{OperationID: "lesson", Method: http.MethodGet, Path: "/lessons/{id}", Summary: "A lesson with its events and its state"}, s.lessonView)
	route(s, huma.Operation{OperationID: "add-events", Method: http.MethodPost, Path: "/lessons/{id}/events", Summary: "Add events; the first batch opens the lesson",
		MaxBodyBytes: 2 << 20}, s.addEvents)
	route(s, huma.Operation{OperationID: "sign-lesson", Method: http.MethodPost, Path: "/lessons/{id}/sign", Summary: "Sign the lesson"}, s.sign)
}

func (s *Server) lessonView(ctx context.Context, w who, in *lessonInput) (*struct{ Body LessonView }, error) {
	out := &struct{ Body LessonView }{}
	v := &out.Body
	err := s.in(ctx, w, func(tx *store.Tx) (err error) {
		if v.Lesson, err = tx.Lesson(in.ID); err != nil {
			return err
		}
		if err := s.mayRead(tx, w, v.Lesson.StudentID); err != nil {
			return err
		}
		if v.State, v.Book, v.Events, err = tx.State(v.Lesson); err != nil {
			return err
		}
		desk, err := tx.Desk(v.Book.Type.ID, tx.Day(v.Lesson.OpenedAt), v.Lesson.InstructorID)
		if err != nil {
			return err
		}
		v.Aids = desk.Aids
		packs, err := tx.Packs()
		if err != nil {
			return err
		}
		v.Elements, v.Notes = map[string]string{}, []string{}
		for _, p := range packs {
			v.Notes = append(v.Notes, p.Note)
			for _, task := range p.Tasks {
				for _, e := range task.Elements {
					v.Elements[e.ID] = cmp.Or(e.Code, e.Text)
				}
			}
		}
		if v.Before, err = tx.LessonsBefore(v.Lesson); err != nil {
			return err
		}
		v.People, err = toTell(tx)
		return err
	})
	if v.State.Opened != nil {
		v.Scale, _ = s.catalog.Scale(v.State.Opened.Scale)
	}
	v.Questions, v.Procedures = s.catalog.QuestionsFor(v.Book.Type.ID), s.catalog.ProceduresFor(v.Book.Type.ID)
	v.ErrorKinds, v.Decisions = lesson.ErrorKindsFor(v.Book.Type), lesson.Decisions
	v.Mine = w.account == v.Lesson.InstructorID
	v.State = v.State.In(w.units())
	for i, q := range v.Questions {
		v.Questions[i].Ask, v.Questions[i].Answer = w.units().Say(q.Ask), w.units().Say(q.Answer)
	}
	return out, err
}

func (s *Server) addEvents(ctx context.Context, w who, in *eventsInput) (*struct{ Body Answers }, error) {
	answers := make([]lesson.Answer, len(in.Body.Events))
	events := make([]lesson.Event, 0, len(answers))
	places := make([]int, 0, len(answers)) // of events among the answers
	for i, raw := range in.Body.Events {
		e, err := lesson.ParseEvent(raw)
		if err != nil {
			answers[i] = lesson.Answer{ID: e.ID, Status: "refused", Reason: fmt.Sprintf("event %d: %v", i+1, err)}
			continue
		}
		events, places = append(events, e), append(places, i)
	}
	if len(events) > 0 {
		err := s.in(ctx, w, func(tx *store.Tx) error {
			taken, err := tx.Accept(in.ID, events, store.Sender{ID: w.account, Role: w.role}, s.now())
			for i, a := range taken {
				answers[places[i]] = a
			}
			return err
		})
		if err != nil {
			return nil, err
		}
	}
	return &struct{ Body Answers }{Answers{answers}}, nil
}

// toTell are the people who can be told of a finding: those who mend first.
func toTell(tx *store.Tx) ([]string, error) {
	out := []string{}
	for _, role := range []string{school.Maintenance, school.Chief, school.Instructor} {
		people, err := tx.People(role)
		if err != nil {
			return nil, err
		}
		for _, p := range people {
			out = append(out, p.Name)
		}
	}
	return out, nil
}

func (s *Server) sign(ctx context.Context, w who, in *signInput) (*struct{ Body lesson.State }, error) {
	account, err := s.store.AccountByID(ctx, w.account)
	if err != nil {
		return nil, err
	}
	switch err := s.guess(ctx, "signing", account.ID, account, in.Body.Password); {
	case errors.Is(err, errWrong):
		s.note(ctx, w, "signature refused: wrong password", in.ID)
		return nil, huma.Error422UnprocessableEntity("That is not your password. Nothing was signed, and nothing was lost.", &huma.ErrorDetail{Location: "body.password", Message: "is not your password"})
	case err != nil:
		return nil, err
	}
	out := &struct{ Body lesson.State }{}
	err = s.in(ctx, w, func(tx *store.Tx) error {
		if err := tx.Sign(in.ID, in.Body.EventHash, store.Sender{ID: w.account, Role: w.role}, in.Body.Event, s.now()); err != nil {
			return err
		}
		row, err := tx.Lesson(in.ID)
		if err != nil {
			return err
		}
		out.Body, _, _, err = tx.State(row)
		return err
	})
	if err == nil {
		s.note(ctx, w, "signed", in.ID)
		out.Body = out.Body.In(w.units())
	}
	return out, err
}
