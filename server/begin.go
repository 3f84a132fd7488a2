package server

import (
	"context"
	"errors"
	"io"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"jetprimer/core/aircraft"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
	"jetprimer/core/weather"
	"jetprimer/store"
)

// Setup says whether the school is still to be begun, and what with.
type Setup struct {
	Needed   bool        `json:"needed"`
	Types    []TypeToFly `json:"types" doc:"the aircraft types that the program ships"`
	Surfaces []string    `json:"surfaces" doc:"what a runway can be of"`
	// Choices are the units that a school can read in.
	Choices []quantity.Setting `json:"choices"`
}

// TypeToFly is an aircraft type with what can be fitted to it.
type TypeToFly struct {
	ID        string               `json:"id"`
	Name      string               `json:"name"`
	Equipment []aircraft.Equipment `json:"equipment"`
}

// Begun is a school that has just been begun, its chief instructor signed in.
type Begun struct {
	Session Session   `json:"session"`
	Invited []Welcome `json:"invited" doc:"the students, with their codes; these are shown this once"`
}

// Welcome is somebody invited, with the link and the code to come in by.
type Welcome struct {
	ID   string `json:"id" doc:"of the invitation"`
	Name string `json:"name"`
	Path string `json:"path"`
	Code string `json:"code"`
}

type beginInput struct {
	Body struct {
		Code string `json:"code" maxLength:"40" doc:"the one-time code that the program printed"`
		school.Beginning
	}
}

func (s *Server) beginRoutes() {
	route(s, huma.Operation{OperationID: "setup", Method: http.MethodGet, Path: "/setup", Summary: "Whether the school is still to be begun"}, s.setup)
	route(s, huma.Operation{OperationID: "take-school", Method: http.MethodPost, Path: "/setup/school", Summary: "Take a moved school over from its file", MaxBodyBytes: movedMost}, s.takeSchool)
	route(s, huma.Operation{OperationID: "begin", Method: http.MethodPost, Path: "/setup", Summary: "Begin the school, all of it in one sitting", MaxBodyBytes: 256 << 10}, s.beginSchool)
}

func (s *Server) setup(ctx context.Context, _ who, _ *struct{}) (*struct{ Body Setup }, error) {
	out := &struct{ Body Setup }{Setup{Types: []TypeToFly{}, Surfaces: weather.Surfaces, Choices: quantity.Settings()}}
	n, err := s.store.Schools(ctx)
	if err != nil || n > 0 {
		return out, err
	}
	out.Body.Needed = true
	for _, t := range s.catalog.Types {
		same := func(o TypeToFly) bool { return o.ID == t.ID }
		out.Body.Types = append(slices.DeleteFunc(out.Body.Types, same), TypeToFly{t.ID, t.Name, optional(t)}) // of versions the last
	}
	return out, nil
}

func optional(t aircraft.Type) []aircraft.Equipment {
	out := []aircraft.Equipment{}
	for _, e := range t.Equipment {
		if e.Optional {
			out = append(out, e)
		}
	}
	return out
}

// NewStart is a beginning ready to be made: tidied and found fit, with ids, its
// founder's password hashed, and codes for its students.
func NewStart(b school.Beginning, now time.Time) (store.Start, error) {
	b = b.Tidy()
	if err := b.Check(); err != nil {
		return store.Start{}, err
	}
	hash, err := HashPassword(b.Chief.Password)
	return store.Start{ID: uuid.NewString(), Beginning: b, Code: freshCode, Now: now, Until: now.AddDate(0, 0, invitationDays),
		Founder: store.Account{ID: newID(), Email: b.Chief.Email, Name: b.Chief.Name, Password: hash}}, err
}

// mayBegin refuses where there is a school already, or the code is not the one
// that the program printed.
func (s *Server) mayBegin(ctx context.Context, code string) error {
	switch n, err := s.store.Schools(ctx); {
	case err != nil:
		return err
	case n > 0:
		return huma.Error409Conflict("A school has been begun here already. Sign in, or ask its administrator for an invitation.")
	}
	err := s.guess(ctx, "setup", "setup", s.setupCode, strings.ToUpper(strings.TrimSpace(code)))
	if errors.Is(err, errWrong) {
		return huma.Error422UnprocessableEntity("That is not the code that the program printed when it started. It is another after each start.", &huma.ErrorDetail{Location: "code", Message: "is not the code that the program printed"})
	}
	return err
}

// movedMost bounds a moved school's file that comes in by the first page; a larger
// one is taken over from the command line.
const movedMost = 2 << 30

type takeSchoolInput struct {
	RawBody huma.MultipartFormFiles[struct {
		Code string        `form:"code" maxLength:"40" required:"true" doc:"the one-time code that the program printed"`
		Key  string        `form:"key" maxLength:"200" required:"true" doc:"the key of the file"`
		File huma.FormFile `form:"file" required:"true" doc:"the school's file"`
	}]
}

// Taken is a school that was taken over.
type Taken struct {
	School string `json:"school"`
}

func (s *Server) takeSchool(ctx context.Context, _ who, in *takeSchoolInput) (*struct{ Body Taken }, error) {
	form := in.RawBody.Data()
	if err := s.mayBegin(ctx, form.Code); err != nil {
		return nil, err
	}
	file, isFile := form.File.File.(interface {
		io.ReaderAt
		io.Seeker
	})
	if !isFile {
		return nil, huma.Error422UnprocessableEntity("The file is missing.", &huma.ErrorDetail{Location: "file", Message: "is missing"})
	}
	size, err := file.Seek(0, io.SeekEnd)
	if err != nil {
		return nil, err
	}
	m, err := s.store.ImportSchool(ctx, file, size, strings.TrimSpace(form.Key), true, func(string, int64) {})
	var why *store.MovedError
	switch {
	case errors.As(err, &why):
		return nil, huma.Error422UnprocessableEntity("The school was not taken over: "+why.Reason+". Nothing of it was kept.", &huma.ErrorDetail{Location: "file", Message: why.Reason})
	case errors.Is(err, store.ErrBegun):
		return nil, huma.Error409Conflict("A school has been begun here meanwhile. Sign in, or ask its administrator for an invitation.")
	case err != nil:
		return nil, err
	}
	return &struct{ Body Taken }{Taken{m.Name}}, nil
}

func (s *Server) beginSchool(ctx context.Context, _ who, in *beginInput) (*struct{ Body Begun }, error) {
	if err := s.mayBegin(ctx, in.Body.Code); err != nil {
		return nil, err
	}
	start, err := NewStart(in.Body.Beginning, s.now())
	if err != nil {
		return nil, err
	}
	start.First = true
	welcomes, err := s.store.Begin(ctx, start)
	if errors.Is(err, store.ErrBegun) {
		return nil, huma.Error409Conflict("A school has been begun here meanwhile. Sign in, or ask its administrator for an invitation.")
	}
	if err != nil {
		return nil, err
	}
	session, err := s.begin(ctx, start.Founder, start.ID)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body Begun }{Begun{Session: session.Body, Invited: []Welcome{}}}
	for _, w := range welcomes {
		out.Body.Invited = append(out.Body.Invited, Welcome{w.Invitation, w.Name, JoinPath(start.ID, w.Invitation), w.Code})
	}
	return out, nil
}
