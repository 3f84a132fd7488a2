package practices

import (
	"context"
	"errors"
	"fmt"
	"hash/fnv"
	"net/http"
	"slices"
	"time"

	"jetprimer/core/access"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/library"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
	"jetprimer/server/api"
	"jetprimer/store"
)

// StandType is an aircraft type with a practice stand.
type StandType struct {
	Type string `json:"type"`
	Name string `json:"name"`
}

// StandView is what a type's practice stand is run from, and its panel.
type StandView struct {
	practice.Course
	Panel        stand.Panel     `json:"panel"`
	TicksASecond int             `json:"ticksASecond" doc:"the steps in which a run is counted"`
	Modes        []practice.Mode `json:"modes"`
	Marks        []string        `json:"marks" doc:"those that an instructor gives from the station"`
}

// PracticeView is one practice, with what it came to.
type PracticeView struct {
	Practice store.PracticeRun `json:"practice"`
	Run      practice.Run      `json:"run"`
	Score    practice.Score    `json:"score"`
}

type standInput struct {
	Type string `path:"type" maxLength:"64"`
}

// PracticeInput names one practice. It is exported so that routes may embed it.
type PracticeInput struct {
	ID string `path:"id" format:"uuid"`
}

type keepPracticeInput struct {
	PracticeInput
	Body struct {
		Run    practice.Run `json:"run"`
		Digest string       `json:"digest" maxLength:"64" doc:"the SHA-256 of the score that the device came to"`
	}
}

type practicesInput struct {
	Person string `query:"person" doc:"whose; empty is everybody's who may be read" maxLength:"64"`
}

// runBytes bounds a run that is sent: as many deeds as there may be.
const runBytes = 12 << 20

// practicesMost is how many practices are listed.
const practicesMost = 100

func (s Handlers) standRoutes() {
	api.Handle(s.API, api.Route{
		ID: "stands", For: access.Practising, Method: http.MethodGet, Path: "/stands",
		Summary: "The aircraft types that have a practice stand", Offline: true,
	}, s.stands)
	api.Handle(s.API, api.Route{
		ID: "stand", For: access.Practising, Method: http.MethodGet, Path: "/stands/{type}",
		Summary: "What a type's practice stand is run from, in the page", Offline: true,
	}, s.standOf)
	api.Handle(s.API, api.Route{
		ID: "portions", For: access.Practising, Method: http.MethodGet, Path: "/stands/{type}/portions",
		Summary: "What to repeat on the stand today, in portions of ten minutes",
	}, s.portions)
	api.Handle(s.API, api.Route{
		ID: "keep-practice", For: access.Practising, Method: http.MethodPut, Path: "/practice/{id}",
		Summary:      "Keep a practice: it is run again from its deeds, and kept when it comes to the same score",
		MaxBodyBytes: runBytes,
	}, s.keepPractice)
	api.Handle(s.API, api.Route{
		ID: "practices", For: access.Practising, Method: http.MethodGet, Path: "/practice",
		Summary: "The newest practices",
	}, s.practices)
	api.Handle(s.API, api.Route{
		ID: "practice", For: access.Practising, Method: http.MethodGet, Path: "/practice/{id}",
		Summary: "One practice, with its run and its score",
	}, s.practice)
}

func (s Handlers) stands(_ context.Context, _ api.Person, _ *struct{}) (*struct{ Body []StandType }, error) {
	out := &struct{ Body []StandType }{[]StandType{}}
	for _, rig := range s.Catalog.Rigs {
		if t, known := s.Catalog.Type(rig.Type); known {
			out.Body = append(out.Body, StandType{t.ID, t.Name})
		}
	}
	return out, nil
}

// course is what a type is practised from: with the list that serves in the school today,
// or the version of a list that a run names.
func (s Handlers) course(tx *store.Tx, w api.Person, aircraftType, list string, version int) (practice.Course, error) {
	c, known := s.Catalog.Course(aircraftType)
	if !known {
		return c, store.ErrNotFound
	}
	own, err := tx.Scenarios(aircraftType)
	if err != nil {
		return c, err
	}
	c.Scenarios = append(own, c.Scenarios...)
	if list != "" {
		doc, err := store.Document[checklist.List](tx, library.KindList, list, version)
		if err == nil && doc.AircraftType == aircraftType {
			c.List = doc
		}
		if errors.Is(err, store.ErrNotFound) {
			err = nil // the run is refused by its list
		}
		return c, err
	}
	desk, err := tx.Desk(aircraftType, s.Today(w), w.Account)
	if errors.Is(err, store.ErrNotFound) || err == nil && len(desk.Lists) == 0 {
		return c, nil
	}
	if err != nil {
		return c, err
	}
	at := max(slices.IndexFunc(desk.Lists, func(l checklist.List) bool { return l.ID == c.List.ID }), 0)
	c.List = desk.Lists[at]
	return c, nil
}

func (s Handlers) standOf(ctx context.Context, w api.Person, in *standInput) (*struct{ Body StandView }, error) {
	var c practice.Course
	err := s.In(ctx, w, func(tx *store.Tx) (err error) { c, err = s.course(tx, w, in.Type, "", 0); return })
	if err != nil {
		return nil, err
	}
	return &struct{ Body StandView }{
		StandView{
			c, stand.New(c.Rig, c.Type, stand.StandardDay, 1).Panel(), stand.TicksASecond, practice.Modes,
			practice.InstructorMarks,
		},
	}, nil
}

// portions are made of what the person is most likely to have forgotten by now. The same
// day gives the same ones.
func (s Handlers) portions(ctx context.Context, w api.Person,
	in *standInput) (*struct{ Body []practice.Portion }, error) {
	var c practice.Course
	weak := []practice.Weak{}
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		if c, err = s.course(tx, w, in.Type, "", 0); err != nil {
			return err
		}
		tried, err := tx.Tried(w.Account, s.Today(w))
		if err != nil {
			return err
		}
		forgetting, _, err := tx.Forgetting()
		for _, p := range forgetting.Practise(tried, s.Today(w)) {
			weak = append(weak, practice.Weak{Item: p.Item, Why: p.Why, Weight: 1 - p.Known})
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	seed := fnv.New64a()
	fmt.Fprint(seed, s.Today(w), w.Account)
	done, err := w.TurnOf(ctx, s.Running)
	if err != nil {
		return nil, err
	}
	defer done()
	all, err := c.Portions(ctx, weak, seed.Sum64())
	return &struct{ Body []practice.Portion }{all}, err
}

// workedMost is how long a run may take to be worked again.
const workedMost = 90 * time.Second

// keepPractice runs what was sent again from its deeds: nothing that a device says of its
// outcome is taken, and what does not come to the same is refused.
func (s Handlers) keepPractice(ctx context.Context, w api.Person,
	in *keepPracticeInput) (*struct{ Body PracticeView }, error) {
	run := in.Body.Run
	if run.Student != w.Account {
		return nil, form.Bad("run.student", "is not who sends it")
	}
	var c practice.Course
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		c, err = s.course(tx, w, run.Scenario.Type, run.List, run.ListVersion)
		if errors.Is(err, store.ErrNotFound) {
			return form.Bad("run.scenario.type", "has no stand")
		}
		if err == nil {
			err = tx.PracticeFits(in.ID, run, s.Now())
		}
		return err
	})
	if err != nil {
		return nil, enough(err)
	}
	session, score, err := s.workAgain(ctx, w, c, run, in.Body.Digest)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body PracticeView }{PracticeView{Run: run, Score: score}}
	err = s.In(ctx, w, func(tx *store.Tx) error {
		err := tx.KeepPractice(in.ID, run, score, session, s.Now())
		if errors.Is(err, store.ErrOtherPractice) {
			return form.Bad("id", "is that of another practice")
		}
		if err != nil {
			return err
		}
		out.Body.Practice, err = tx.PracticeRun(in.ID)
		return err
	})
	if err != nil {
		return nil, enough(err)
	}
	s.live.ends(w.School, in.ID)
	return out, nil
}

// enough asks to come again where a student has sent as many practices as may be.
func enough(err error) error {
	if errors.Is(err, store.ErrLimit) {
		return api.Again(3600, "You have sent as many practices today as may be. This one is kept on your device.")
	}
	return err
}

// workAgain works a run again in its turn, for as long as somebody waits for it, and holds
// its score to the digest that was sent. Those that come to nothing are counted as wrong
// guesses are: each takes a processor for as long as a right one.
func (s Handlers) workAgain(ctx context.Context, w api.Person, c practice.Course, run practice.Run,
	digest string) (session *practice.Session, score practice.Score, err error) {
	why := form.Bad("digest", "is not that of the score that the run comes to here: it is not kept")
	err = s.Tried(ctx, api.ToPractise, w.Account, func(bool) (bool, error) {
		done, err := w.TurnOf(ctx, s.Running)
		if err != nil {
			return false, err
		}
		defer done()
		bounded, cancel := context.WithTimeout(ctx, workedMost)
		defer cancel()
		if session, err = c.Replay(bounded, run, nil); err == nil {
			score, err = session.Score(bounded)
		}
		var unusable form.Problem
		switch {
		case ctx.Err() != nil:
			return false, ctx.Err()
		case errors.Is(err, context.DeadlineExceeded):
			why = form.Bad("run", "takes longer than %s to be worked again", workedMost)
			return false, nil
		case errors.As(err, &unusable):
			why = err
			return false, nil
		}
		return score.Digest() == digest, err
	})
	if errors.Is(err, api.ErrWrong) {
		err = why
	}
	return session, score, err
}

func (s Handlers) practices(ctx context.Context, w api.Person,
	in *practicesInput) (*struct{ Body []store.PracticeRun }, error) {
	out := &struct{ Body []store.PracticeRun }{[]store.PracticeRun{}}
	if !w.Roles.Teach() {
		in.Person = w.Account
	}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		all, err := tx.PracticeRuns(in.Person, practicesMost)
		out.Body = append(out.Body, all...)
		return err
	})
	return out, err
}

func (s Handlers) practice(ctx context.Context, w api.Person, in *PracticeInput) (*struct{ Body PracticeView }, error) {
	out := &struct{ Body PracticeView }{}
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		if out.Body.Practice, err = tx.PracticeRun(in.ID); err != nil {
			return err
		}
		if out.Body.Practice.StudentID != w.Account && !w.Roles.Teach() {
			return store.ErrNotFound
		}
		out.Body.Run, out.Body.Score, err = tx.Practice(in.ID)
		return err
	})
	return out, err
}
