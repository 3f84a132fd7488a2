package accounts

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/alexedwards/argon2id"
	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

// Session is who is signed in, where, and what they may do.
type Session struct {
	Account string `json:"account"`
	Name    string `json:"name"`
	School  string `json:"school"`
	// SchoolID is what a promised signature names the school by.
	SchoolID string       `json:"schoolId"`
	Roles    access.Roles `json:"roles" doc:"each of student, instructor, chief, maintenance, examiner, admin"`
	Today    string       `json:"today" doc:"the school's day, such as 2026-11-24"`
	Zone     string       `json:"zone" doc:"the school's time zone, such as Europe/Dublin"`
	May      []string     `json:"may" doc:"the operations that the person may call"`
	// Units are those that the person reads: their own over the school's.
	Units    quantity.Units     `json:"units" doc:"none left open"`
	Own      quantity.Units     `json:"own" doc:"what the person chose instead of the school's"`
	Settings school.Settings    `json:"settings" doc:"the school's own"`
	Choices  []quantity.Setting `json:"choices" doc:"the units there are"`
	// HasPin says that the person has a number to sign with.
	HasPin bool `json:"hasPin"`
	// HasPasskey says that a device of theirs has a passkey.
	HasPasskey bool `json:"hasPasskey"`
	// MustSecond says that the school asks for one-time codes, which are to be set up
	// before anything else.
	MustSecond bool `json:"mustSecond"`
	// Letters says that links and codes can be sent by letter.
	Letters bool `json:"letters"`
	// Schools are all that the person belongs to.
	Schools []reports.Named `json:"schools"`
}

// SessionOutput answers with who is signed in.
type SessionOutput struct{ Body Session }

type signInInput struct {
	Body struct {
		Email    string `json:"email" minLength:"3" maxLength:"200" doc:"the address you were enrolled with"`
		Password string `json:"password" minLength:"1" maxLength:"200"`
		School   string `json:"school,omitempty" format:"uuid" doc:"the id of the school, for people of several"`
		Code     string `json:"code,omitempty" maxLength:"12" doc:"the code of the authenticator, where the account has one"`
	}
}

func (s Handlers) sessionRoutes() {
	api.Handle(s.API, api.Route{
		ID: "sign-in", For: access.Anyone, Method: http.MethodPost, Path: "/session", Summary: "Sign in",
		MaxBodyBytes: 4 << 10,
	}, s.signIn)
	api.Handle(s.API, api.Route{
		ID: "session", For: access.Everyone, Method: http.MethodGet, Path: "/session", Summary: "Who is signed in",
		WhileOwing: true,
	},
		func(_ context.Context, w api.Person, _ *struct{}) (*SessionOutput, error) { return s.session(w), nil })
	api.Handle(s.API, api.Route{
		ID: "sign-out", For: access.Everyone, Method: http.MethodDelete, Path: "/session", Summary: "Sign out",
		WhileOwing: true,
	},
		func(ctx context.Context, w api.Person, _ *struct{}) (*struct{}, error) {
			s.Audit(ctx, w, "signed out", "")
			return nil, s.Sessions.Destroy(ctx)
		})
	api.Handle(s.API, api.Route{
		ID: "change-school", For: access.Everyone, Method: http.MethodPut, Path: "/session/school",
		Summary: "Go on at another school of mine", WhileOwing: true, MaxBodyBytes: 4 << 10,
	}, s.changeSchool)
	api.Handle(s.API, api.Route{
		ID: "set-pin", For: access.Everyone, Method: http.MethodPut, Path: "/session/pin",
		Summary: "Keep a number to sign with", MaxBodyBytes: 4 << 10,
	}, s.setPin)
	api.Handle(s.API, api.Route{
		ID: "set-units", For: access.Everyone, Method: http.MethodPut, Path: "/session/units",
		Summary: "The units that I read", WhileOwing: true, MaxBodyBytes: 4 << 10,
	}, s.setUnits)
	api.Handle(s.API, api.Route{
		ID: "set-settings", For: access.Roles{access.Chief, access.Admin}, Method: http.MethodPut,
		Path: "/school/settings", Summary: "What the school decides for itself", MaxBodyBytes: 4 << 10,
	}, s.setSettings)
}

func (s Handlers) session(w api.Person) *SessionOutput {
	return &SessionOutput{Session{w.Account, w.Name, w.Place, w.School, w.Roles, s.Today(w), w.Zone.String(),
		s.Allowed(w.Roles),
		w.Units().Whole(), w.Own, w.Settings, quantity.Settings(), w.HasPin, w.HasPasskey,
		w.Roles.OwesSecond(w.Settings.SecondFactor, w.HasSecond), s.Office != nil || w.HasLetters, w.Schools}}
}

// changeSchool goes on at another school that the person belongs to.
func (s Handlers) changeSchool(ctx context.Context, w api.Person, in *struct {
	Body struct {
		School string `json:"school" format:"uuid"`
	}
}) (*SessionOutput, error) {
	account, err := s.Store.AccountByID(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	return s.Begin(ctx, account, in.Body.School)
}

// setUnits keeps the units that the person reads instead of the school's.
func (s Handlers) setUnits(ctx context.Context, w api.Person,
	in *struct{ Body quantity.Units }) (*SessionOutput, error) {
	if err := in.Body.Check(); err != nil {
		return nil, form.Bad("units", "cannot be used: %v", err)
	}
	if err := s.Store.SetUnits(ctx, w.Account, in.Body); err != nil {
		return nil, err
	}
	w.Own = in.Body
	return s.session(w), nil
}

type pinInput struct {
	Body struct {
		Password string `json:"password" minLength:"1" maxLength:"200" doc:"your password, again"`
		Pin      string `json:"pin" maxLength:"12" doc:"6 to 12 digits"`
		Device   []byte `json:"device,omitempty" maxLength:"128" doc:"the public key of the device that the PIN is to open: P-256, uncompressed"`
	}
}

// setPin keeps the number that signs beside the password.
func (s Handlers) setPin(ctx context.Context, w api.Person, in *pinInput) (*SessionOutput, error) {
	if err := access.CheckPin(in.Body.Pin); err != nil {
		return nil, err
	}
	account, err := s.Store.AccountByID(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	if err := s.knows(ctx, account, in.Body.Password, "The PIN is as it was."); err != nil {
		return nil, err
	}
	hash, err := api.HashPassword(in.Body.Pin)
	if err != nil {
		return nil, err
	}
	keys := account.DeviceKeys
	if same, err := argon2id.ComparePasswordAndHash(in.Body.Pin, account.Pin); err != nil || !same {
		keys = nil // another PIN ends what the old one opened
	}
	if len(in.Body.Device) > 0 {
		key, err := deviceKey(in.Body.Device, s.Now())
		if err != nil {
			return nil, err
		}
		keys = append(keys, key)
		keys = keys[max(0, len(keys)-devicesMost):]
	}
	if err := s.Store.SetPin(ctx, w.Account, hash, keys); err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "PIN set", "")
	w.HasPin = true
	return s.session(w), nil
}

// setSettings keeps what the school decides for itself.
func (s Handlers) setSettings(ctx context.Context, w api.Person,
	in *struct{ Body school.Settings }) (*SessionOutput, error) {
	if err := in.Body.Check(); err != nil {
		return nil, err
	}
	if err := s.In(ctx, w, func(tx *store.Tx) error { return tx.SetSettings(in.Body) }); err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "school's settings changed", fmt.Sprintf("%+v", in.Body))
	w.Settings = in.Body
	return s.session(w), nil
}

func (s Handlers) signIn(ctx context.Context, _ api.Person, in *signInInput) (*SessionOutput, error) {
	email := strings.ToLower(strings.TrimSpace(in.Body.Email))
	account, err := s.Store.AccountByEmail(ctx, email)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	switch err := s.Guess(ctx, api.ToSignIn, cmp.Or(account.ID, email), account.Password, in.Body.Password); {
	case errors.Is(err, api.ErrWrong):
		s.noteOf(ctx, account.ID, "sign-in refused: wrong password")
		return nil, huma.Error401Unauthorized("Address and password do not belong together.")
	case err != nil:
		return nil, err
	}
	if err := s.SecondAt(ctx, account, in.Body.Code); err != nil {
		if in.Body.Code != "" {
			s.noteOf(ctx, account.ID, "sign-in refused: wrong one-time code")
		}
		return nil, err
	}
	return s.Begin(ctx, account, in.Body.School)
}

// noteOf writes down what happened to an account before anybody was signed in, for
// each of its schools.
func (s Handlers) noteOf(ctx context.Context, account, what string) {
	memberships, err := s.Store.Memberships(ctx, account)
	if account == "" || err != nil || len(memberships) == 0 {
		s.Audit(ctx, api.Person{Account: account}, what, "")
		return
	}
	for _, m := range memberships {
		s.Audit(ctx, api.Person{Account: account, School: m.SchoolID}, what, "")
	}
}

// Begin signs somebody in at a school of theirs; empty is the first.
func (s Handlers) Begin(ctx context.Context, account store.Account, schoolID string) (*SessionOutput, error) {
	memberships, err := s.Store.Memberships(ctx, account.ID)
	if err != nil {
		return nil, err
	}
	w, chosen, err := api.WhoAt(api.Person{Account: account.ID, School: schoolID}, memberships)
	switch {
	case err != nil:
		return nil, err
	case w.Account == "":
		return nil, huma.Error403Forbidden("You are known, but not a member of that school. Ask its administrator.")
	}
	if err := s.Sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.Sessions.Put(ctx, "account", account.ID)
	s.Sessions.Put(ctx, "school", chosen.SchoolID)
	token, _, err := s.Sessions.Commit(ctx)
	if err != nil {
		return nil, err
	}
	if err := s.Store.Begun(ctx, api.KeptToken(token), account.ID, chosen.SchoolID, chosen.IdleHours, api.Address(ctx),
		deviceWords(api.OriginOf(ctx).Agent), s.Now()); err != nil {
		return nil, err
	}
	if device := api.OriginOf(ctx).Device; device != "" {
		if err := s.Store.KnowDevice(ctx, account.ID, api.KeptToken(device), s.Now()); err != nil {
			return nil, err
		}
	}
	s.Audit(ctx, w, "signed in", "")
	return s.session(w), nil
}
