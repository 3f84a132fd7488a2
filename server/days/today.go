package days

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/core/calc"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/library"
	"jetprimer/core/schedule"
	"jetprimer/core/school"
	"jetprimer/core/weather"
	"jetprimer/server/api"
	"jetprimer/server/bookings"
	"jetprimer/server/fleet"
	"jetprimer/store"
)

// Today is the day at the school.
type Today struct {
	Day      string              `json:"day"`
	Now      time.Time           `json:"now"`
	Cursor   int64               `json:"cursor" doc:"where the feed stands: ask it for what comes after"`
	Next     *NextLesson         `json:"next" doc:"what the person flies or teaches next"`
	Planned  []bookings.Planned  `json:"planned" doc:"what is planned today, and what became of it"`
	Tomorrow []bookings.Planned  `json:"tomorrow" doc:"what is planned on the next day that has anything, where today has no more"`
	Waits    []WaitingFor        `json:"waits" doc:"what waits for the person"`
	Running  []store.Lesson      `json:"running"`
	Recent   []store.Lesson      `json:"recent" doc:"signed in the last two weeks"`
	Aircraft []fleet.AircraftDay `json:"aircraft"`
	Fields   []FieldView         `json:"fields" doc:"the fields of the school's aircraft"`
	// Shared are the students whose records are shared with an examiner.
	Shared []store.Student `json:"shared"`
	// Examines says that the person is an examiner.
	Examines bool   `json:"examines"`
	Notice   string `json:"notice" doc:"what everybody is told by who runs the program; empty for nothing"`
}

// NextLesson is a booking with what the student's plan says of it.
type NextLesson struct {
	bookings.Planned
	TypeName string `json:"typeName"`
	// Plan is the kind of lesson that would close the most of what is in the
	// student's way; empty where nothing is.
	Plan     string `json:"plan"`
	Closes   int    `json:"closes"`
	InTheWay int    `json:"inTheWay"`
}

// FieldView is a field with its report, and what the report comes from.
type FieldView struct {
	calc.Field
	Note string `json:"note"`
}

// WaitingFor is something that waits for the person: a lesson to sign or to
// acknowledge, a version to approve, a finding to decide on.
type WaitingFor struct {
	Kind  string `json:"kind" enum:"sign,acknowledge,approve,decide,run"`
	Ref   string `json:"ref" doc:"the lesson's id, or the kind, id and version of a document"`
	Title string `json:"title"`
	On    string `json:"on" doc:"a day; empty for none"`
	What  string `json:"what"`
}

// Briefing is what the opening of a lesson chooses from.
type Briefing struct {
	Day       string               `json:"day" doc:"the school's day"`
	Students  []store.Student      `json:"students" doc:"those you flew with last first"`
	Flown     map[string]int       `json:"flown" doc:"how many lessons each student had, by id"`
	Aircraft  []fleet.AircraftDay  `json:"aircraft" doc:"those you flew last first"`
	Methods   []string             `json:"methods"`
	Purposes  []string             `json:"purposes"`
	Scales    []lesson.Scale       `json:"scales"`
	Exercises []checklist.Exercise `json:"exercises"`
	// Planned is what is planned and not over, for two days.
	Planned []bookings.Planned `json:"planned"`
	// Reports are the practice station's, by aerodrome.
	Reports    map[string]string   `json:"reports"`
	Aerodromes []weather.Aerodrome `json:"aerodromes"`
	Note       string              `json:"note" doc:"what the reports come from"`
}

func (s Handlers) todayRoutes() {
	api.Handle(s.API, api.Route{
		ID: "today", For: access.Everyone, Method: http.MethodGet, Path: "/today",
		Summary: "The day: lessons and aircraft", Offline: true,
	}, s.todayView)
	api.Handle(s.API, api.Route{
		ID: "briefing", For: access.Teaching, Method: http.MethodGet, Path: "/briefing",
		Summary: "What a lesson is opened from", Offline: true,
	}, s.briefing)
	api.Handle(s.API, api.Route{
		ID: "findings", For: access.FindingReaders, Method: http.MethodGet, Path: "/findings",
		Summary: "Findings on the aircraft",
	},
		func(ctx context.Context, w api.Person, _ *struct{}) (out *struct{ Body []store.Finding }, err error) {
			out = &struct{ Body []store.Finding }{}
			err = s.In(ctx, w, func(tx *store.Tx) (err error) { out.Body, err = tx.Findings(s.Today(w)); return })
			return
		})
}

func (s Handlers) todayView(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body Today }, error) {
	now := s.Now()
	out := &struct{ Body Today }{
		Today{
			Day: s.Today(w), Now: now, Running: []store.Lesson{}, Recent: []store.Lesson{}, Tomorrow: []bookings.Planned{},
			Waits: []WaitingFor{}, Fields: []FieldView{}, Shared: []store.Student{},
		},
	}
	v := &out.Body
	if s.Notice != nil {
		v.Notice = s.Notice()
	}
	var bases []weather.Aerodrome
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		if v.Cursor, err = tx.Cursor(); err != nil {
			return err
		}
		may, err := s.Readable(tx, w)
		if err != nil {
			return err
		}
		unsigned, err := tx.Unsigned()
		if err != nil {
			return err
		}
		recent, err := tx.Lessons("", now.Add(-14*24*time.Hour), time.Time{})
		if err != nil {
			return err
		}
		if v.Aircraft, err = fleet.New(s.API).AircraftDay(tx, v.Day); err != nil {
			return err
		}
		if w.Roles.Has(access.Examiner) {
			students, err := tx.Students()
			if err != nil {
				return err
			}
			v.Examines = true
			v.Shared = slices.DeleteFunc(students, func(st store.Student) bool { return !may(st.ID) })
		}
		var ended []store.Lesson
		for _, l := range append(unsigned, recent...) {
			switch {
			case !may(l.StudentID):
			case l.Status == "open":
				v.Running = addOnce(v.Running, l)
			case l.Status == "ended":
				ended = addOnce(ended, l)
			default:
				v.Recent = addOnce(v.Recent, l)
			}
		}
		if err := s.plan(tx, w, v, may, append(unsigned, recent...)); err != nil {
			return err
		}
		if v.Waits, err = s.waits(tx, w, ended, v.Aircraft); err != nil {
			return err
		}
		bases, err = tx.Bases()
		return err
	})
	for _, a := range bases {
		if slices.ContainsFunc(v.Aircraft, func(d fleet.AircraftDay) bool { return d.Base == a.ID }) {
			v.Fields = append(v.Fields, FieldView{
				calc.FieldNow(weather.Simulated(a, now), a, s.Catalog.Icing, w.Units()), stationNote,
			})
		}
	}
	return out, err
}

// plan is what is planned today, the next day that has anything where today has
// no more, and what the person flies next with what their student's plan says.
func (s Handlers) plan(tx *store.Tx, w api.Person, v *Today, may func(string) bool, lessons []store.Lesson) error {
	midnight, err := time.ParseInLocation(time.DateOnly, v.Day, w.Zone)
	if err != nil {
		return err
	}
	ahead, err := bookings.New(s.API).Planned(tx, may, midnight, midnight.AddDate(0, 0, 8), lessons)
	if err != nil {
		return err
	}
	v.Planned = []bookings.Planned{}
	booked := make([]schedule.Booking, len(ahead))
	later := ""
	for i, p := range ahead {
		booked[i] = p.Booking
		day := school.Day(p.StartsAt, w.Zone)
		switch {
		case day == v.Day:
			v.Planned = append(v.Planned, p)
		case later == "" || later == day:
			later, v.Tomorrow = day, append(v.Tomorrow, p)
		}
	}
	if slices.ContainsFunc(v.Planned, func(p bookings.Planned) bool { return p.EndsAt.After(v.Now) && p.Lesson == "" }) {
		v.Tomorrow = []bookings.Planned{}
	}
	next, any := schedule.NextOf(w.Account, booked, v.Now, func(b schedule.Booking) bool {
		return slices.ContainsFunc(ahead, func(p bookings.Planned) bool { return p.ID == b.ID && p.Lesson != "" })
	})
	if !any {
		return nil
	}
	i := slices.IndexFunc(ahead, func(p bookings.Planned) bool { return p.ID == next.ID })
	v.Next = &NextLesson{Planned: ahead[i]}
	for _, a := range v.Aircraft {
		if a.Registration == next.Registration {
			v.Next.TypeName = a.TypeName
		}
	}
	st, err := tx.Student(next.StudentID)
	if err != nil {
		return err
	}
	c, err := s.Reports.Case(tx, st, v.Day)
	if err != nil {
		return err
	}
	r := c.Policy.Ready(c.Case)
	v.Next.InTheWay = len(r.Missing) + len(r.Blocks)
	if len(r.Plan) > 0 {
		v.Next.Plan, v.Next.Closes = r.Plan[0].Title, max(len(r.Plan[0].Elements), 1)
	}
	return nil
}

// waits lists what waits for the person.
func (s Handlers) waits(tx *store.Tx, w api.Person, ended []store.Lesson, fleet []fleet.AircraftDay) ([]WaitingFor, error) {
	out := []WaitingFor{}
	for _, l := range ended {
		if l.InstructorID != w.Account {
			continue
		}
		what := fmt.Sprintf("%d of %d items", l.Marked, l.Total)
		for _, a := range fleet {
			for _, f := range a.Findings {
				if f.Lesson == l.ID && f.Condition == school.Undecided {
					what = "nobody has decided: " + f.Words
				}
			}
		}
		out = append(out, WaitingFor{"sign", l.ID, l.Student, tx.Day(l.OpenedAt), what})
	}
	if s.May(w.Roles, "open-run") {
		runs, err := tx.UnsignedRuns(w.Account)
		if err != nil {
			return nil, err
		}
		for _, r := range runs {
			out = append(out, WaitingFor{
				"run", r.ID, r.Registration, tx.Day(r.OpenedAt),
				fmt.Sprintf("a maintenance run, %d of %d checks", r.Marked, r.Total),
			})
		}
	}
	if w.Roles.Has(access.Student) {
		lessons, err := tx.Unacknowledged(w.Account)
		if err != nil {
			return nil, err
		}
		for _, l := range lessons {
			out = append(out, WaitingFor{
				"acknowledge", l.ID, "Lesson with " + l.Instructor, tx.Day(l.OpenedAt), l.Registration,
			})
		}
	}
	if s.May(w.Roles, "approve-version") {
		versions, err := tx.Versions("")
		if err != nil {
			return nil, err
		}
		for _, v := range versions {
			if v.Status == library.Reviewed {
				out = append(out, WaitingFor{
					"approve", fmt.Sprintf("%s/%s/%d", v.Kind, v.ID, v.Version),
					fmt.Sprintf("%s, version %d", v.Title, v.Version), "", "reviewed, and not yet in force",
				})
			}
		}
	}
	if w.Roles.Has(access.Maintenance) {
		for _, a := range fleet {
			for _, f := range a.Findings {
				if f.Condition.WaitsForMaintenance(f.Until != "") {
					out = append(out, WaitingFor{"decide", f.Lesson, a.Registration, f.On, f.Words})
				}
			}
		}
	}
	return out, nil
}

func addOnce(list []store.Lesson, l store.Lesson) []store.Lesson {
	if slices.ContainsFunc(list, func(o store.Lesson) bool { return o.ID == l.ID }) {
		return list
	}
	return append(list, l)
}

func (s Handlers) briefing(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body Briefing }, error) {
	out := &struct{ Body Briefing }{Briefing{Day: s.Today(w), Methods: []string{}, Purposes: lesson.Purposes,
		Scales:    s.Catalog.Scales,
		Exercises: checklist.Exercises, Reports: map[string]string{}, Flown: map[string]int{}, Note: stationNote}}
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		if out.Body.Aerodromes, err = tx.Bases(); err != nil {
			return err
		}
		for _, a := range out.Body.Aerodromes {
			out.Body.Reports[a.ID] = weather.Simulated(a, s.Now())
		}
		decided, err := tx.Policy(out.Body.Day)
		if err != nil {
			return err
		}
		out.Body.Methods = decided.Methods
		out.Body.Scales = slices.DeleteFunc(slices.Clone(s.Catalog.Scales),
			func(one lesson.Scale) bool { return !slices.Contains(decided.Scales, one.ID) })
		if out.Body.Students, err = tx.Students(); err != nil {
			return err
		}
		if out.Body.Aircraft, err = fleet.New(s.API).AircraftDay(tx, out.Body.Day); err != nil {
			return err
		}
		flown, err := tx.Flown()
		if err != nil {
			return err
		}
		for id, f := range flown {
			out.Body.Flown[id] = f.N
		}
		lately, err := tx.LessonsOf(w.Account, recently)
		if err != nil {
			return err
		}
		lastFirst(out.Body.Students, lately,
			func(st store.Student, l store.Lesson) bool { return st.ID == l.StudentID })
		lastFirst(out.Body.Aircraft, lately,
			func(a fleet.AircraftDay, l store.Lesson) bool { return a.Registration == l.Registration })
		out.Body.Planned, err = bookings.New(s.API).Planned(tx, func(string) bool { return true }, s.Now(), s.Now().Add(48*time.Hour),
			lately)
		return err
	})
	return out, err
}

// recently is how many of an instructor's last lessons say what comes first.
const recently = 30

// lastFirst sorts what lessons were of: the latest first, then as they stood.
func lastFirst[T any](all []T, lessons []store.Lesson, of func(T, store.Lesson) bool) {
	place := func(one T) int {
		if i := slices.IndexFunc(lessons, func(l store.Lesson) bool { return of(one, l) }); i >= 0 {
			return i
		}
		return len(lessons)
	}
	slices.SortStableFunc(all, func(a, b T) int { return place(a) - place(b) })
}

type checkInput struct {
	Name    string `path:"name" maxLength:"64" doc:"the check, such as magneto"`
	RawBody []byte
}

type rawOutput struct {
	ContentType string `header:"Content-Type"`
	Body        []byte
}

func (s Handlers) checkRoutes() {
	api.Handle(s.API, api.Route{
		ID: "checks", For: access.Everyone, Method: http.MethodGet, Path: "/checks",
		Summary: "The checks with their fields", Offline: true,
	},
		func(context.Context, api.Person, *struct{}) (*struct{ Body []check.Definition }, error) {
			return &struct{ Body []check.Definition }{check.All()}, nil
		})
	api.Handle(s.API, api.Route{
		ID: "check", For: access.Everyone, Method: http.MethodPost, Path: "/check/{name}", Summary: "Judge one reading",
		MaxBodyBytes: 64 << 10,
	},
		func(ctx context.Context, w api.Person, in *checkInput) (*rawOutput, error) {
			out := &rawOutput{ContentType: "application/json"}
			err := s.In(ctx, w, func(tx *store.Tx) (err error) {
				out.Body, err = check.Run(in.Name, in.RawBody, s.typeIn(tx, w))
				return err
			})
			return out, err
		})
	s.describe("/api/v1/check/{name}", "CheckRequest", check.Schemas())
}

// describe gives the OpenAPI document the schemas of an operation whose bytes
// core reads itself: the body is one of them.
func (s Handlers) describe(path, prefix string, schemas map[string]map[string]any) {
	components := s.Operations.OpenAPI().Components.Schemas.Map()
	any := &huma.Schema{}
	for _, name := range slices.Sorted(maps.Keys(schemas)) {
		data, err := json.Marshal(schemas[name])
		schema := &huma.Schema{}
		if err == nil {
			err = json.Unmarshal(data, schema)
		}
		if err != nil {
			panic("server: the schema of " + name + ": " + err.Error())
		}
		id := prefix + "-" + name
		components[id] = schema
		any.AnyOf = append(any.AnyOf, &huma.Schema{Ref: "#/components/schemas/" + id})
	}
	s.Operations.OpenAPI().Paths[path].Post.RequestBody = &huma.RequestBody{
		Required: true, Content: map[string]*huma.MediaType{"application/json": {Schema: any}},
	}
}
