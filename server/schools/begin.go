package schools

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
	"jetprimer/core/weather"
	"jetprimer/server/accounts"
	"jetprimer/server/api"
	"jetprimer/server/fleet"
	"jetprimer/store"
)

// Setup says whether the school is still to be begun, and what with.
type Setup struct {
	Needed   bool              `json:"needed"`
	Types    []fleet.TypeToFly `json:"types" doc:"the aircraft types that the program ships"`
	Surfaces []string          `json:"surfaces" doc:"what a runway can be of"`
	// Choices are the units that a school can read in.
	Choices []quantity.Setting `json:"choices"`
}

// Begun is a school that has just been begun, its chief instructor signed in.
type Begun struct {
	Session accounts.Session `json:"session"`
	Invited []api.Welcome    `json:"invited" doc:"the students, with their codes; these are shown this once"`
}

type beginInput struct {
	Body struct {
		Code string `json:"code" maxLength:"40" doc:"the one-time code that the program printed"`
		school.Beginning
	}
}

func (s Handlers) beginRoutes() {
	api.Handle(s.API, api.Route{
		ID: "setup", For: access.Anyone, Method: http.MethodGet, Path: "/setup",
		Summary: "Whether the school is still to be begun",
	}, s.setup)
	api.Handle(s.API,
		api.Route{ID: "take-school", For: access.Anyone, Method: http.MethodPost, Path: "/setup/school",
			Summary: "Take a moved school over from its file",
			RequestBody: &huma.RequestBody{
				Required: true,
				Content: map[string]*huma.MediaType{
					"application/zip": {Schema: &huma.Schema{Type: huma.TypeString, Format: "binary"}},
				},
			}}, s.takeSchool)
	api.Handle(s.API, api.Route{
		ID: "begin", For: access.Anyone, Method: http.MethodPost, Path: "/setup",
		Summary: "Begin the school, all of it in one sitting", MaxBodyBytes: 256 << 10,
	}, s.beginSchool)
}

func (s Handlers) setup(ctx context.Context, _ api.Person, _ *struct{}) (*struct{ Body Setup }, error) {
	out := &struct{ Body Setup }{Setup{Types: []fleet.TypeToFly{}, Surfaces: weather.Surfaces,
		Choices: quantity.Settings()}}
	n, err := s.Store.Schools(ctx)
	if err != nil || n > 0 {
		return out, err
	}
	out.Body.Needed = true
	for _, t := range s.Catalog.Types {
		same := func(o fleet.TypeToFly) bool { return o.ID == t.ID }
		// of versions the last
		out.Body.Types = append(slices.DeleteFunc(out.Body.Types, same), fleet.ToFly(t))
	}
	return out, nil
}

// NewStart is a beginning ready to be made: tidied and found fit, with ids, its
// founder's password hashed, and codes for its students.
func NewStart(b school.Beginning, now time.Time) (store.Start, error) {
	b = b.Tidy()
	if err := b.Check(); err != nil {
		return store.Start{}, err
	}
	hash, err := api.HashPassword(b.Chief.Password)
	return store.Start{ID: uuid.NewString(), Beginning: b, Code: api.FreshCode, Now: now,
		Until:   now.AddDate(0, 0, api.InvitationDays),
		Founder: store.Account{ID: api.NewID(), Email: b.Chief.Email, Name: b.Chief.Name, Password: hash}}, err
}

// mayBegin refuses where there is a school already, or the code is not the one
// that the program printed.
func (s Handlers) mayBegin(ctx context.Context, code string) error {
	switch n, err := s.Store.Schools(ctx); {
	case err != nil:
		return err
	case n > 0:
		return huma.Error409Conflict("A school has been begun here already. Sign in, or ask its administrator for " +
			"an invitation.")
	}
	err := s.Guess(ctx, api.ToBegin, "setup", s.setupCode, strings.ToUpper(strings.TrimSpace(code)))
	if errors.Is(err, api.ErrWrong) {
		return huma.Error422UnprocessableEntity("That is not the code that the program printed when it started. It "+
			"is another after each start.", &huma.ErrorDetail{
			Location: "code", Message: "is not the code that the program printed",
		})
	}
	return err
}

// movedMost bounds a moved school's file that comes in by the first page, and takeTime how
// long it may take to come; a larger one is taken over from the command line.
const (
	movedMost = 2 << 30
	takeTime  = time.Hour
)

type takeSchoolInput struct {
	Code string `header:"Jetprimer-Code" maxLength:"120" required:"true" doc:"the one-time code that the program printed, percent-encoded"`
	Key  string `header:"Jetprimer-Key" maxLength:"600" required:"true" doc:"the key of the file, percent-encoded"`
	file io.Reader
}

// Resolve takes the body as it comes: nothing of it is read before the code is known to be
// right.
func (in *takeSchoolInput) Resolve(ctx huma.Context) []error {
	in.file = ctx.BodyReader()
	for at, text := range map[string]*string{"header.Jetprimer-Code": &in.Code, "header.Jetprimer-Key": &in.Key} {
		plain, err := url.PathUnescape(*text)
		if err != nil {
			return []error{&huma.ErrorDetail{Location: at, Message: "is not percent-encoded"}}
		}
		*text = plain
	}
	return nil
}

// TakenOver is a school that was taken over.
type TakenOver struct {
	School string `json:"school"`
	// Invited are those who have an account here already: nothing of a file enrols them.
	Invited []api.Welcome `json:"invited" doc:"members who have an account here already, with the codes by which they come in; these are shown this once"`
}

// takeSchool takes a school over from its file, which lies on the disk for as long as that
// takes and is no longer named there.
func (s Handlers) takeSchool(ctx context.Context, _ api.Person,
	in *takeSchoolInput) (*struct{ Body TakenOver }, error) {
	if err := s.mayBegin(ctx, in.Code); err != nil {
		return nil, err
	}
	done, err := (api.Person{School: "setup", Account: "setup"}).TurnOf(ctx, s.Exporting)
	if err != nil {
		return nil, err
	}
	defer done()
	file, err := os.CreateTemp("", "jetprimer-school-")
	if err != nil {
		return nil, err
	}
	defer file.Close()
	if err := os.Remove(file.Name()); err != nil {
		return nil, err
	}
	api.Passes(ctx, takeTime)
	size, err := io.Copy(file, io.LimitReader(in.file, movedMost+1))
	switch {
	case err != nil:
		return nil, huma.Error408RequestTimeout("The file did not come through to its end. Nothing of it was kept; " +
			"try again.")
	case size > movedMost:
		return nil, huma.NewError(http.StatusRequestEntityTooLarge,
			fmt.Sprintf("The file has more than the %d bytes that are taken here: take it over with jetprimer "+
				"import-school.", int64(movedMost)))
	}
	m, invited, err := s.Store.ImportSchool(ctx, file, size, strings.TrimSpace(in.Key), true, s.Now(), api.FreshCode,
		func(string, int64) {})
	var why form.Problem
	switch {
	case errors.As(err, &why):
		return nil, huma.Error422UnprocessableEntity("The school was not taken over: "+why.Reason+
			". Nothing of it was kept.", &huma.ErrorDetail{Location: "file", Message: why.Reason})
	case errors.Is(err, store.ErrSchoolExists):
		return nil, huma.Error409Conflict("A school has been begun here meanwhile. Sign in, or ask its " +
			"administrator for an invitation.")
	case err != nil:
		return nil, err
	}
	return &struct{ Body TakenOver }{TakenOver{m.Name, welcomes(m.School, invited)}}, nil
}

// welcomes are those who were invited, with the paths of their links.
func welcomes(school string, all []store.Welcome) []api.Welcome {
	out := []api.Welcome{}
	for _, w := range all {
		out = append(out, api.Welcome{
			ID: w.Invitation, Name: w.Name, Path: api.JoinPath(school, w.Invitation), Code: w.Code,
		})
	}
	return out
}

func (s Handlers) beginSchool(ctx context.Context, _ api.Person, in *beginInput) (*struct{ Body Begun }, error) {
	if err := s.mayBegin(ctx, in.Body.Code); err != nil {
		return nil, err
	}
	start, err := NewStart(in.Body.Beginning, s.Now())
	if err != nil {
		return nil, err
	}
	start.First = true
	invited, err := s.Store.Begin(ctx, start)
	if errors.Is(err, store.ErrSchoolExists) {
		return nil, huma.Error409Conflict("A school has been begun here meanwhile. Sign in, or ask its " +
			"administrator for an invitation.")
	}
	if err != nil {
		return nil, err
	}
	session, err := accounts.New(s.API).Begin(ctx, start.Founder, start.ID)
	if err != nil {
		return nil, err
	}
	return &struct{ Body Begun }{Begun{session.Body, welcomes(start.ID, invited)}}, nil
}
