package lessons

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"jetprimer/catalog"
	"jetprimer/core/access"
	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/record"
	"jetprimer/core/standard"
	"jetprimer/exchange"
	"jetprimer/server/accounts"
	"jetprimer/server/api"
	"jetprimer/store"
)

// LessonView is a lesson with all that a screen, or the rules in the browser,
// need to go on from it.
//
// What the asker has already is left out: events, the kit, and for who has the opening
// event the book, and the state of a lesson that is not signed, which they fold themselves.
type LessonView struct {
	Lesson    store.Lesson   `json:"lesson"`
	Kit       *Kit           `json:"kit,omitempty" doc:"left out where its hash was named"`
	KitHash   string         `json:"kitHash"`
	Book      *lesson.Book   `json:"book,omitempty"`
	Scale     lesson.Scale   `json:"scale"`
	Before    int            `json:"before" doc:"lessons the student had before this one"`
	Events    []lesson.Event `json:"events"`
	State     *lesson.State  `json:"state,omitempty"`
	Count     int            `json:"count" doc:"how many events the lesson has in all"`
	Mine      bool           `json:"mine" doc:"whether the person may add to it and sign it"`
	Marks     bool           `json:"marks" doc:"whether the person may mark it: its own instructor, and who sits in"`
	RunningMs int64          `json:"runningMs" doc:"for how long the lesson has been running"`
	Now       string         `json:"now" doc:"the school's clock when this was answered, RFC 3339"`
	// Withheld says that the student has not said yet how they saw it: of the
	// lesson only its phases are here.
	Withheld bool   `json:"withheld"`
	Beside   Beside `json:"beside"`
}

// Beside is what only the school knows of a lesson: its times by the school's rule, and
// the lessons around it.
type Beside struct {
	Times lesson.Times `json:"times"`
	// Overlaps are lessons at the same time that cannot be, in sentences.
	Overlaps []string  `json:"overlaps"`
	Previous *Previous `json:"previous,omitempty" doc:"the student's lesson before on the same type"`
}

// Previous is an earlier lesson with the marks of its items, and how each item
// went in the last lessons before.
type Previous struct {
	Lesson  string                  `json:"lesson"`
	On      string                  `json:"on"`
	Marks   map[string]string       `json:"marks"`
	Tallies map[string]lesson.Tally `json:"tallies"`
}

// Kit is what a lesson on a type is worked with beside its list, whoever's it
// is: with it a device opens lessons by itself.
type Kit struct {
	Hash       string              `json:"hash" doc:"SHA-256 of all the rest"`
	ErrorKinds []lesson.ErrorKind  `json:"errorKinds"`
	People     []string            `json:"people" doc:"who can be told of a finding, maintenance first"`
	Observers  []lesson.Observer   `json:"observers" doc:"who may sit in and mark"`
	Decisions  []string            `json:"decisions"`
	Codes      map[string]string   `json:"codes" doc:"reference code or text of each standard element, by id"`
	Notes      []string            `json:"notes" doc:"what is said wherever a standards pack is used"`
	Aids       []checklist.Aid     `json:"aids" doc:"the school's memory aids on the lesson's day"`
	Questions  []catalog.Question  `json:"questions" doc:"what can be asked orally on this type"`
	Procedures []catalog.Procedure `json:"procedures"`
}

// Kit gathers what a lesson on a type is worked with.
func (s Handlers) Kit(tx *store.Tx, w api.Person, t aircraft.Type, aids []checklist.Aid,
	packs []standard.Pack) (Kit, error) {
	k := Kit{ErrorKinds: lesson.ErrorKindsFor(t), People: []string{}, Observers: []lesson.Observer{},
		Decisions: lesson.Decisions, Codes: map[string]string{}, Notes: []string{},
		Aids: aids, Questions: s.Catalog.QuestionsFor(t.ID), Procedures: s.Catalog.ProceduresFor(t.ID)}
	for _, p := range packs {
		k.Notes = append(k.Notes, p.Note)
		for _, task := range p.Tasks {
			for _, e := range task.Elements {
				k.Codes[e.ID] = cmp.Or(e.Code, e.Text)
			}
		}
	}
	for i, q := range k.Questions {
		k.Questions[i].Ask, k.Questions[i].Answer = w.Units().Say(q.Ask), w.Units().Say(q.Answer)
	}
	people, err := tx.People(access.Maintenance, access.Chief, access.Instructor)
	if err != nil {
		return k, err
	}
	// Those who mend are told first.
	for _, role := range []string{access.Maintenance, access.Chief, access.Instructor} {
		for _, p := range people {
			if !p.Roles.Has(role) || slices.Contains(k.People, p.Name) {
				continue
			}
			k.People = append(k.People, p.Name)
			if p.Roles.Teach() {
				k.Observers = append(k.Observers, lesson.Observer{Person: p.ID, Name: p.Name})
			}
		}
	}
	text, err := json.Marshal(k)
	if err != nil {
		return k, err
	}
	k.Hash = fmt.Sprintf("%x", sha256.Sum256(text))
	return k, nil
}

type viewInput struct {
	ID    string `path:"id" format:"uuid"`
	Known int    `query:"known" minimum:"0" doc:"how many of the lesson's events you have; where there are no others the answer is 204, without a body"`
	// What the asker has of the lesson, and need not be sent.
	Have []string `query:"have,explode" maxItems:"64" doc:"of each device whose events you have, its name, a colon and the sequence of the last"`
	Kit  string   `query:"kit" maxLength:"64" doc:"the hash of the kit that you have"`
}

// has is the last sequence of each device whose events the asker has.
func (in *viewInput) has() (map[string]int64, error) {
	last := map[string]int64{}
	for _, one := range in.Have {
		at := strings.LastIndex(one, ":")
		seq, err := strconv.ParseInt(one[at+1:], 10, 64)
		if at < 1 || err != nil || seq < 1 {
			return nil, form.Bad("have", "is not a device, a colon and a sequence from 1: %s", form.Clip(one))
		}
		last[one[:at]] = max(last[one[:at]], seq)
	}
	return last, nil
}

type viewOutput struct {
	Status int
	Body   LessonView
}

type eventsInput struct {
	ID string `path:"id" format:"uuid"`
	// Now says that the person waits for the answer and has opened nothing yet:
	// what stands against the lesson refuses it.
	Now  bool `query:"now" doc:"refuse to open a lesson on an aircraft that stands on the ground; a lesson that was opened without the school is kept and flagged"`
	Body EventsInputBody
}

// EventsInputBody are events of a lesson, in any order.
type EventsInputBody struct {
	Events []json.RawMessage `json:"events" minItems:"1" maxItems:"500" doc:"events in the shape of LessonEvent"`
}

// Itemised says that each event is answered by itself.
func (*EventsInputBody) Itemised() {}

var _ api.Itemised = (*EventsInputBody)(nil) // or one bad event would refuse the others

// Answers say what became of each event, in their order.
type Answers struct {
	Answers []lesson.Taken `json:"answers"`
}

type answerInput struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		accounts.Proof
		lesson.Answered
		Of    string `json:"of" minLength:"64" maxLength:"64" doc:"the hash of the seal that you saw"`
		Event string `json:"event" format:"uuid" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-7" doc:"the id of the answer's event, a UUID of version 7"`
	}
}

type signInput struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		accounts.Proof
		// Promise stands in for both: a device signed while the school was not
		// reached.
		Offline   *accounts.OfflineSignature `json:"offline,omitempty"`
		EventHash string                     `json:"eventHash" minLength:"64" maxLength:"64" doc:"eventHash of the state you saw"`
		Event     string                     `json:"event" format:"uuid" pattern:"^[0-9a-f]{8}-[0-9a-f]{4}-7" doc:"the id of the signature's event, a UUID of version 7"`
	}
}

func (s Handlers) lessonRoutes() {
	api.Handle(s.API, api.Route{
		ID: "lesson", For: access.LessonReaders, Method: http.MethodGet, Path: "/lessons/{id}",
		Summary: "A lesson with its events and its state",
	}, s.lessonView)
	api.Handle(s.API, api.Route{
		ID: "add-events", For: access.Roles{access.Student, access.Instructor, access.Chief, access.Maintenance},
		Method: http.MethodPost, Path: "/lessons/{id}/events", Summary: "Add events; the first batch opens the lesson",
		MaxBodyBytes: 2 << 20,
	}, s.addEvents)
	api.Handle(s.API, api.Route{
		ID: "sign-lesson", For: access.FindingReaders, Method: http.MethodPost, Path: "/lessons/{id}/sign",
		Summary: "Sign the lesson",
	}, s.sign)
	api.Handle(s.API, api.Route{
		ID: "export-record", For: access.LessonReaders, Method: http.MethodGet, Path: "/lessons/{id}/record",
		Summary: "The signed record as a file that proves itself",
	}, s.exportRecord)
	api.Handle(s.API, api.Route{
		ID: "grade-sheet", For: access.RecordReaders, Method: http.MethodGet, Path: "/lessons/{id}/grade-sheet.pdf",
		Summary: "The signed record on paper",
	}, s.gradeSheet)
	api.Handle(s.API, api.Route{
		ID: "answer-lesson", For: access.Roles{access.Student}, Method: http.MethodPost, Path: "/lessons/{id}/answer",
		Summary: "Acknowledge a signed lesson, or refuse to with words",
	}, s.answer)
}

func (s Handlers) lessonView(ctx context.Context, w api.Person, in *viewInput) (*viewOutput, error) {
	out := &viewOutput{Status: http.StatusOK}
	v := &out.Body
	has, err := in.has()
	if err != nil {
		return nil, err
	}
	err = s.In(ctx, w, func(tx *store.Tx) (err error) {
		if v.Lesson, err = tx.Lesson(in.ID); err != nil {
			return err
		}
		if err := s.MayOpen(tx, w, v.Lesson); err != nil {
			return err
		}
		if in.Known > 0 {
			if n, err := tx.CountEvents(in.ID); err != nil || n == in.Known {
				out.Status = http.StatusNoContent
				return err
			}
		}
		state, book, events, err := tx.State(v.Lesson)
		if err != nil {
			return err
		}
		v.State, v.Book, v.Events, v.Count = &state, &book, events, len(events)
		desk, err := tx.Desk(book.Type.ID, tx.Day(v.Lesson.OpenedAt), v.Lesson.InstructorID)
		if err != nil {
			return err
		}
		packs, err := tx.Packs(tx.Day(v.Lesson.OpenedAt))
		if err != nil {
			return err
		}
		if !v.Lesson.Run() {
			if v.Before, err = tx.LessonsBefore(v.Lesson); err != nil {
				return err
			}
		}
		kit, err := s.Kit(tx, w, book.Type, desk.Aids, packs)
		if err != nil {
			return err
		}
		v.Kit, v.KitHash = &kit, kit.Hash
		return s.beside(tx, w, v)
	})
	if err != nil || out.Status == http.StatusNoContent {
		return out, err
	}
	if v.State.Opened != nil {
		v.Scale, _ = s.Catalog.Scale(v.State.Opened.Scale)
	}
	v.Mine = w.Account == v.Lesson.InstructorID
	v.Marks = v.Mine || w.Roles.Teach() && slices.Contains(v.Lesson.Observers, w.Account)
	v.RunningMs = lesson.RunningMs(v.Events, s.Now())
	state := v.State.In(w.Units())
	v.State, v.Now = &state, s.Now().UTC().Format(time.RFC3339)
	if w.Account == v.Lesson.StudentID && v.State.Ended && v.State.Self == nil {
		v.withhold()
	}
	v.leaveOut(has, in.Kit)
	return out, err
}

// leaveOut takes away what the asker has.
func (v *LessonView) leaveOut(has map[string]int64, kit string) {
	known := func(e lesson.Event) bool { return e.Seq <= has[e.Device] }
	opens := func(e lesson.Event) bool { return e.ID == v.Book.Opening }
	if at := slices.IndexFunc(v.Events, opens); at >= 0 && known(v.Events[at]) {
		v.Book = nil
		if len(v.State.Seals) == 0 {
			v.State = nil
		}
	}
	v.Events = slices.DeleteFunc(slices.Clone(v.Events), known)
	if kit == v.KitHash {
		v.Kit = nil
	}
}

// beside adds what only the school knows of a lesson.
func (s Handlers) beside(tx *store.Tx, w api.Person, v *LessonView) error {
	decided, err := tx.Policy(tx.Day(v.Lesson.OpenedAt))
	if err != nil {
		return err
	}
	v.Beside.Times, v.Beside.Overlaps = lesson.TimesOf(*v.State, decided.TimeRule), []string{}
	if v.Lesson.Run() {
		return nil
	}
	before, marks, err := tx.Previous(v.Lesson)
	if err != nil {
		return err
	}
	if before.ID != "" {
		tallies, err := tx.Tallies(v.Lesson)
		if err != nil {
			return err
		}
		v.Beside.Previous = &Previous{before.ID, tx.Day(before.OpenedAt), marks, tallies}
	}
	if !w.Roles.Teach() {
		return nil
	}
	others, err := tx.Overlapping(v.Lesson)
	for _, o := range others {
		what := "The instructor " + o.Instructor
		switch {
		case o.Registration == v.Lesson.Registration:
			what = "The aircraft " + o.Registration
		case o.StudentID == v.Lesson.StudentID:
			what = "The student " + o.Student
		}
		with := "another lesson at the same time: " + o.Student + " with " + o.Instructor
		if o.Run() {
			with = "a maintenance run at the same time, by " + o.Instructor
		}
		v.Beside.Overlaps = append(v.Beside.Overlaps,
			fmt.Sprintf("%s was in %s in %s, from %s.", what, with, o.Registration,
				o.OpenedAt.In(w.Zone).Format("15:04")))
	}
	return err
}

// withhold leaves of a lesson what a student grades themselves by.
func (v *LessonView) withhold() {
	v.Withheld, v.Events, v.Beside.Previous = true, []lesson.Event{}, nil
	phases := slices.Clone(v.State.Phases)
	for i := range phases {
		phases[i].Levels, phases[i].Prompted = [5]int{}, 0
	}
	seals, opened := v.State.Seals, v.State.Opened
	v.State = &lesson.State{
		RulesVersion: v.State.RulesVersion, Opened: opened, Ended: true, DurationMs: v.State.DurationMs, Phases: phases,
		Seals: seals, Practice: v.State.Practice,
	}
	v.State.Empty()
}

func (s Handlers) addEvents(ctx context.Context, w api.Person, in *eventsInput) (*struct{ Body Answers }, error) {
	answers := make([]lesson.Taken, len(in.Body.Events))
	events := make([]lesson.Event, 0, len(answers))
	places := make([]int, 0, len(answers)) // of events among the answers
	for i, raw := range in.Body.Events {
		e, err := lesson.ParseEvent(raw)
		if err != nil {
			answers[i] = lesson.Taken{ID: e.ID, Status: "refused", Reason: fmt.Sprintf("event %d: %v", i+1, err)}
			continue
		}
		events, places = append(events, e), append(places, i)
	}
	if len(events) > 0 {
		err := s.In(ctx, w, func(tx *store.Tx) error {
			taken, err := tx.Accept(in.ID, events, store.Sender{ID: w.Account, Roles: w.Roles, Asks: in.Now}, s.Now())
			for i, a := range taken {
				answers[places[i]] = a
			}
			return err
		})
		if err != nil {
			return nil, err
		}
	}
	for _, a := range answers {
		s.Counters.Events.WithLabelValues(a.Status).Inc()
	}
	return &struct{ Body Answers }{Answers{answers}}, nil
}

func (s Handlers) sign(ctx context.Context, w api.Person, in *signInput) (*struct{ Body lesson.State }, error) {
	prove := func() (store.Signer, error) { return accounts.New(s.API).Proves(ctx, w, in.ID, in.Body.Proof) }
	if p := in.Body.Offline; p != nil {
		prove = func() (store.Signer, error) {
			return accounts.New(s.API).
				ProvesOffline(ctx, w, *p, p.Over(w.School, in.ID, in.Body.EventHash, in.Body.Event))
		}
	}
	by, err := prove()
	if err != nil {
		return nil, err
	}
	return s.sealed(ctx, w, in.ID, "signed", func(tx *store.Tx) error {
		return tx.Sign(in.ID, in.Body.EventHash, by, in.Body.Event, s.Now())
	})
}

// answer seals what the student says to a signed lesson.
func (s Handlers) answer(ctx context.Context, w api.Person, in *answerInput) (*struct{ Body lesson.State }, error) {
	by, err := accounts.New(s.API).Proves(ctx, w, in.ID, in.Body.Proof)
	if err != nil {
		return nil, err
	}
	what := "acknowledged"
	if in.Body.Refused {
		what = "acknowledgement refused"
	}
	return s.sealed(ctx, w, in.ID, what, func(tx *store.Tx) error {
		return tx.Acknowledge(in.ID, in.Body.Of, in.Body.Answered, by, in.Body.Event, s.Now())
	})
}

// sealed does what seals something of a lesson, and gives the state with it.
func (s Handlers) sealed(ctx context.Context, w api.Person, id, what string,
	do func(*store.Tx) error) (*struct{ Body lesson.State }, error) {
	out := &struct{ Body lesson.State }{}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		if err := do(tx); err != nil {
			return err
		}
		row, err := tx.Lesson(id)
		if err != nil {
			return err
		}
		out.Body, _, _, err = tx.State(row)
		return err
	})
	if err == nil {
		s.Counters.Seals.Inc()
		s.Audit(ctx, w, what, id)
		out.Body = out.Body.In(w.Units())
	}
	return out, err
}

// recordOf exports a lesson that the person may read.
func (s Handlers) recordOf(ctx context.Context, w api.Person, id string) (file []byte, found record.Found, err error) {
	err = s.In(ctx, w, func(tx *store.Tx) error {
		l, err := tx.Lesson(id)
		if err != nil {
			return err
		}
		if err := s.MayOpen(tx, w, l); err != nil {
			return err
		}
		file, found, err = tx.Export(id, s.Now())
		return err
	})
	return file, found, err
}

func (s Handlers) exportRecord(ctx context.Context, w api.Person, in *api.ID) (*api.File, error) {
	file, found, err := s.recordOf(ctx, w, in.ID)
	if err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "record exported", in.ID)
	l := found.Record.Lesson
	return api.Attachment("application/json", fmt.Sprintf("record-%s-%s.json", l.Day, l.Aircraft), file), nil
}

func (s Handlers) gradeSheet(ctx context.Context, w api.Person, in *api.ID) (*api.File, error) {
	_, found, err := s.recordOf(ctx, w, in.ID)
	if err != nil {
		return nil, err
	}
	out, err := exchange.WriteGradeSheet(found, w.Units())
	l := found.Record.Lesson
	return api.Attachment("application/pdf", fmt.Sprintf("grades-%s-%s.pdf", l.Day, l.Aircraft), out), err
}
