package server

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

type sessionOutput struct{ Body Session }

type signInInput struct {
	Body struct {
		Email    string `json:"email" minLength:"3" maxLength:"200" doc:"the address you were enrolled with"`
		Password string `json:"password" minLength:"1" maxLength:"200"`
		School   string `json:"school,omitempty" format:"uuid" doc:"the id of the school, for people of several"`
		Code     string `json:"code,omitempty" maxLength:"12" doc:"the code of the authenticator, where the account has one"`
	}
}

func (s accountHandlers) sessionRoutes() {
	route(s.API, Route{
		ID: "sign-in", For: access.Anyone, Method: http.MethodPost, Path: "/session", Summary: "Sign in",
		MaxBodyBytes: 4 << 10,
	}, s.signIn)
	route(s.API, Route{
		ID: "session", For: access.Everyone, Method: http.MethodGet, Path: "/session", Summary: "Who is signed in",
		WhileOwing: true,
	},
		func(_ context.Context, w who, _ *struct{}) (*sessionOutput, error) { return s.session(w), nil })
	route(s.API, Route{
		ID: "sign-out", For: access.Everyone, Method: http.MethodDelete, Path: "/session", Summary: "Sign out",
		WhileOwing: true,
	},
		func(ctx context.Context, w who, _ *struct{}) (*struct{}, error) {
			s.audit(ctx, w, "signed out", "")
			return nil, s.sessions.Destroy(ctx)
		})
	route(s.API, Route{
		ID: "change-school", For: access.Everyone, Method: http.MethodPut, Path: "/session/school",
		Summary: "Go on at another school of mine", WhileOwing: true, MaxBodyBytes: 4 << 10,
	}, s.changeSchool)
	route(s.API, Route{
		ID: "set-pin", For: access.Everyone, Method: http.MethodPut, Path: "/session/pin",
		Summary: "Keep a number to sign with", MaxBodyBytes: 4 << 10,
	}, s.setPin)
	route(s.API, Route{
		ID: "set-units", For: access.Everyone, Method: http.MethodPut, Path: "/session/units",
		Summary: "The units that I read", WhileOwing: true, MaxBodyBytes: 4 << 10,
	}, s.setUnits)
	route(s.API, Route{
		ID: "set-settings", For: access.Roles{access.Chief, access.Admin}, Method: http.MethodPut,
		Path: "/school/settings", Summary: "What the school decides for itself", MaxBodyBytes: 4 << 10,
	}, s.setSettings)
}

func (s accountHandlers) session(w who) *sessionOutput {
	return &sessionOutput{Session{w.account, w.name, w.place, w.school, w.roles, s.today(w), w.zone.String(),
		s.allowed(w.roles),
		w.units().Whole(), w.own, w.settings, quantity.Settings(), w.hasPin, w.hasPasskey,
		w.roles.OwesSecond(w.settings.SecondFactor, w.hasSecond), s.office != nil || w.hasLetters, w.schools}}
}

// changeSchool goes on at another school that the person belongs to.
func (s accountHandlers) changeSchool(ctx context.Context, w who, in *struct {
	Body struct {
		School string `json:"school" format:"uuid"`
	}
}) (*sessionOutput, error) {
	account, err := s.store.AccountByID(ctx, w.account)
	if err != nil {
		return nil, err
	}
	return s.begin(ctx, account, in.Body.School)
}

// setUnits keeps the units that the person reads instead of the school's.
func (s accountHandlers) setUnits(ctx context.Context, w who, in *struct{ Body quantity.Units }) (*sessionOutput, error) {
	if err := in.Body.Check(); err != nil {
		return nil, form.Bad("units", "cannot be used: %v", err)
	}
	if err := s.store.SetUnits(ctx, w.account, in.Body); err != nil {
		return nil, err
	}
	w.own = in.Body
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
func (s accountHandlers) setPin(ctx context.Context, w who, in *pinInput) (*sessionOutput, error) {
	if err := access.CheckPin(in.Body.Pin); err != nil {
		return nil, err
	}
	account, err := s.store.AccountByID(ctx, w.account)
	if err != nil {
		return nil, err
	}
	if err := s.knows(ctx, account, in.Body.Password, "The PIN is as it was."); err != nil {
		return nil, err
	}
	hash, err := HashPassword(in.Body.Pin)
	if err != nil {
		return nil, err
	}
	keys := account.DeviceKeys
	if same, err := argon2id.ComparePasswordAndHash(in.Body.Pin, account.Pin); err != nil || !same {
		keys = nil // another PIN ends what the old one opened
	}
	if len(in.Body.Device) > 0 {
		key, err := deviceKey(in.Body.Device, s.now())
		if err != nil {
			return nil, err
		}
		keys = append(keys, key)
		keys = keys[max(0, len(keys)-devicesMost):]
	}
	if err := s.store.SetPin(ctx, w.account, hash, keys); err != nil {
		return nil, err
	}
	s.audit(ctx, w, "PIN set", "")
	w.hasPin = true
	return s.session(w), nil
}

// setSettings keeps what the school decides for itself.
func (s accountHandlers) setSettings(ctx context.Context, w who, in *struct{ Body school.Settings }) (*sessionOutput, error) {
	if err := in.Body.Check(); err != nil {
		return nil, err
	}
	if err := s.in(ctx, w, func(tx *store.Tx) error { return tx.SetSettings(in.Body) }); err != nil {
		return nil, err
	}
	s.audit(ctx, w, "school's settings changed", fmt.Sprintf("%+v", in.Body))
	w.settings = in.Body
	return s.session(w), nil
}

func (s accountHandlers) signIn(ctx context.Context, _ who, in *signInInput) (*sessionOutput, error) {
	email := strings.ToLower(strings.TrimSpace(in.Body.Email))
	account, err := s.store.AccountByEmail(ctx, email)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	switch err := s.guess(ctx, toSignIn, cmp.Or(account.ID, email), account.Password, in.Body.Password); {
	case errors.Is(err, errWrong):
		s.noteOf(ctx, account.ID, "sign-in refused: wrong password")
		return nil, huma.Error401Unauthorized("Address and password do not belong together.")
	case err != nil:
		return nil, err
	}
	if err := s.secondAt(ctx, account, in.Body.Code); err != nil {
		if in.Body.Code != "" {
			s.noteOf(ctx, account.ID, "sign-in refused: wrong one-time code")
		}
		return nil, err
	}
	return s.begin(ctx, account, in.Body.School)
}

// noteOf writes down what happened to an account before anybody was signed in, for
// each of its schools.
func (s accountHandlers) noteOf(ctx context.Context, account, what string) {
	memberships, err := s.store.Memberships(ctx, account)
	if account == "" || err != nil || len(memberships) == 0 {
		s.audit(ctx, who{account: account}, what, "")
		return
	}
	for _, m := range memberships {
		s.audit(ctx, who{account: account, school: m.SchoolID}, what, "")
	}
}

// begin signs somebody in at a school of theirs; empty is the first.
func (s accountHandlers) begin(ctx context.Context, account store.Account, schoolID string) (*sessionOutput, error) {
	memberships, err := s.store.Memberships(ctx, account.ID)
	if err != nil {
		return nil, err
	}
	w, chosen, err := whoAt(who{account: account.ID, school: schoolID}, memberships)
	switch {
	case err != nil:
		return nil, err
	case w.account == "":
		return nil, huma.Error403Forbidden("You are known, but not a member of that school. Ask its administrator.")
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, "account", account.ID)
	s.sessions.Put(ctx, "school", chosen.SchoolID)
	token, _, err := s.sessions.Commit(ctx)
	if err != nil {
		return nil, err
	}
	if err := s.store.Begun(ctx, keptToken(token), account.ID, chosen.SchoolID, chosen.IdleHours, address(ctx),
		deviceWords(origin(ctx).agent), s.now()); err != nil {
		return nil, err
	}
	if device := origin(ctx).device; device != "" {
		if err := s.store.KnowDevice(ctx, account.ID, keptToken(device), s.now()); err != nil {
			return nil, err
		}
	}
	s.audit(ctx, w, "signed in", "")
	return s.session(w), nil
}
