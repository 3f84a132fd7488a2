package accounts

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"rsc.io/qr"

	"jetprimer/core/access"
	"jetprimer/internal/onetime"
	"jetprimer/mail"
	"jetprimer/server/api"
	"jetprimer/store"
)

// AccountView is what a person sees of their own account.
type AccountView struct {
	Name       string         `json:"name"`
	Email      string         `json:"email"`
	Sessions   []OwnSession   `json:"sessions"`
	Second     bool           `json:"second" doc:"whether one-time codes are asked for at the sign-in"`
	Required   bool           `json:"required" doc:"whether the school asks the person's roles for them"`
	HasPin     bool           `json:"hasPin"`
	HasPasskey bool           `json:"hasPasskey"`
	Signed     []store.Signed `json:"signed" doc:"the newest first, at most 200"`
}

// OwnSession is where the person is signed in.
type OwnSession struct {
	ID   string `json:"id"`
	This bool   `json:"this" doc:"whether it is the one that asks"`
	store.SignedIn
}

// SecondBegun is a secret for an authenticator. It serves once a code of it has
// come back.
type SecondBegun struct {
	Words   string `json:"words" doc:"the secret, to be typed"`
	URI     string `json:"uri" doc:"the secret, to be opened on the device that has the authenticator"`
	Picture []byte `json:"picture" doc:"the same as a PNG picture, to be scanned"`
}

// signedMost bounds what is listed of what somebody signed.
const signedMost = 200

// recoveryHours is for how long a code for coming back to an account waits.
const recoveryHours = 24

func (s Handlers) accountRoutes() {
	api.Handle(s.API, api.Route{
		ID: "account", For: access.Everyone, Method: http.MethodGet, Path: "/account",
		Summary: "My account: where I am signed in, and what I signed", WhileOwing: true, MaxBodyBytes: 4 << 10,
	}, s.account)
	api.Handle(s.API, api.Route{
		ID: "set-password", For: access.Everyone, Method: http.MethodPut, Path: "/account/password",
		Summary: "Another password; every other session ends", WhileOwing: true, MaxBodyBytes: 4 << 10,
	}, s.setPassword)
	api.Handle(s.API, api.Route{
		ID: "end-sessions", For: access.Everyone, Method: http.MethodPost, Path: "/account/sessions/end",
		Summary: "End one of my sessions, or all but this", MaxBodyBytes: 4 << 10,
	}, s.endSessions)
	api.Handle(s.API, api.Route{
		ID: "begin-second", For: access.Everyone, Method: http.MethodPost, Path: "/account/second",
		Summary: "A secret for one-time codes", WhileOwing: true, MaxBodyBytes: 4 << 10,
	}, s.beginSecond)
	api.Handle(s.API, api.Route{
		ID: "keep-second", For: access.Everyone, Method: http.MethodPut, Path: "/account/second",
		Summary: "Ask for one-time codes from now on", WhileOwing: true, MaxBodyBytes: 4 << 10,
	}, s.keepSecond)
	api.Handle(s.API, api.Route{
		ID: "end-second", For: access.Everyone, Method: http.MethodPost, Path: "/account/second/end",
		Summary: "Ask for one-time codes no more", MaxBodyBytes: 4 << 10,
	}, s.endSecond)
	api.Handle(s.API, api.Route{
		ID: "notices", For: access.Everyone, Method: http.MethodGet, Path: "/account/notices",
		Summary: "What I am told of my account and have not read", WhileOwing: true, MaxBodyBytes: 4 << 10,
	}, s.notices)
	api.Handle(s.API, api.Route{
		ID: "read-notice", For: access.Everyone, Method: http.MethodPost, Path: "/account/notices/{id}/read",
		Summary: "I have read it", WhileOwing: true, MaxBodyBytes: 4 << 10, Status: http.StatusNoContent,
	}, func(ctx context.Context, w api.Person, in *api.ID) (*struct{}, error) {
		return nil, s.In(ctx, w, func(tx *store.Tx) error { return tx.ReadNotice(w.Account, in.ID, s.Now()) })
	})
	api.Handle(s.API, api.Route{
		ID: "recover-member", For: access.Governing, Method: http.MethodPost, Path: "/people/{id}/recovery",
		Summary: "A one-time code by which somebody comes back to their account", MaxBodyBytes: 4 << 10,
	}, s.recoverMember)
	api.Handle(s.API, api.Route{
		ID: "recover", For: access.Anyone, Method: http.MethodPost, Path: "/recover/{id}",
		Summary: "Come back to an account by a one-time code", MaxBodyBytes: 4 << 10,
	}, s.recover)
}

// sessionID names a session to its owner without giving its token away.
func sessionID(token string) string {
	sum := sha256.Sum256([]byte("session " + token))
	return hex.EncodeToString(sum[:8])
}

func (s Handlers) account(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body AccountView }, error) {
	account, err := s.Store.AccountByID(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body AccountView }{AccountView{Name: w.Name, Email: account.Email, Sessions: []OwnSession{},
		Second:   w.HasSecond,
		Required: w.Roles.OwesSecond(w.Settings.SecondFactor, false), HasPin: w.HasPin, HasPasskey: w.HasPasskey}}
	sessions, err := s.Store.SessionsOf(ctx, w.Account, "")
	if err != nil {
		return nil, err
	}
	here := api.KeptToken(s.Sessions.Token(ctx))
	for _, one := range sessions {
		out.Body.Sessions = append(out.Body.Sessions, OwnSession{sessionID(one.Token), one.Token == here, one})
	}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body.Signed, err = tx.SignedBy(w.Account, signedMost)
		return err
	})
}

func (s Handlers) notices(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body []store.Notice }, error) {
	out := &struct{ Body []store.Notice }{}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) { out.Body, err = tx.Notices(w.Account); return })
}

// knows holds a person's own password against their account.
func (s Handlers) knows(ctx context.Context, account store.Account, password, kept string) error {
	err := s.Guess(ctx, api.ToSign, account.ID, account.Password, password)
	if errors.Is(err, api.ErrWrong) {
		return huma.Error422UnprocessableEntity("That is not your password. "+kept, &huma.ErrorDetail{
			Location: "body.password", Message: "is not your password",
		})
	}
	return err
}

func (s Handlers) setPassword(ctx context.Context, w api.Person, in *struct {
	Body struct {
		Password string `json:"password" minLength:"1" maxLength:"200" doc:"the one that serves now"`
		Next     string `json:"next" minLength:"1" maxLength:"200"`
	}
}) (*struct{}, error) {
	account, err := s.Store.AccountByID(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	if err := s.knows(ctx, account, in.Body.Password, "Nothing was changed."); err != nil {
		return nil, err
	}
	if err := access.CheckPassword(in.Body.Next, w.Name, account.Email); err != nil {
		return nil, err
	}
	hash, err := api.HashPassword(in.Body.Next)
	if err != nil {
		return nil, err
	}
	if err := s.Store.SetPassword(ctx, account.ID, hash); err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "password changed, other sessions ended", "")
	return nil, s.Store.EndSessions(ctx, w.Account, api.KeptToken(s.Sessions.Token(ctx)))
}

func (s Handlers) endSessions(ctx context.Context, w api.Person, in *struct {
	Body struct {
		ID string `json:"id,omitempty" maxLength:"40" doc:"of one session; all but this when left out"`
	}
}) (*struct{}, error) {
	here := api.KeptToken(s.Sessions.Token(ctx))
	if in.Body.ID == "" {
		s.Audit(ctx, w, "other sessions ended", "")
		return nil, s.Store.EndSessions(ctx, w.Account, here)
	}
	sessions, err := s.Store.SessionsOf(ctx, w.Account, "")
	if err != nil {
		return nil, err
	}
	for _, one := range sessions {
		if sessionID(one.Token) == in.Body.ID {
			s.Audit(ctx, w, "a session ended", one.Device)
			return nil, s.Store.EndSession(ctx, w.Account, one.Token)
		}
	}
	return nil, store.ErrNotFound
}

// beginSecond makes a secret, which waits in the session until a code of it comes.
func (s Handlers) beginSecond(ctx context.Context, w api.Person, in *struct {
	Body struct {
		Password string `json:"password" minLength:"1" maxLength:"200" doc:"your password, again"`
	}
}) (*struct{ Body SecondBegun }, error) {
	account, err := s.Store.AccountByID(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	if err := s.knows(ctx, account, in.Body.Password, "Nothing was changed."); err != nil {
		return nil, err
	}
	secret := make([]byte, onetime.SecretSize)
	if _, err := rand.Read(secret); err != nil {
		return nil, err
	}
	s.Sessions.Put(ctx, "second", base64.StdEncoding.EncodeToString(secret))
	out := &struct{ Body SecondBegun }{
		SecondBegun{Words: onetime.Words(secret), URI: onetime.URI(w.Place, account.Email, secret)},
	}
	code, err := qr.Encode(out.Body.URI, qr.M)
	if err != nil {
		return nil, err
	}
	out.Body.Picture = code.PNG()
	return out, nil
}

type codeInput struct {
	Body struct {
		Code string `json:"code" minLength:"1" maxLength:"12" doc:"the six digits that the authenticator shows"`
	}
}

func (s Handlers) keepSecond(ctx context.Context, w api.Person, in *codeInput) (*SessionOutput, error) {
	secret, err := base64.StdEncoding.DecodeString(s.Sessions.GetString(ctx, "second"))
	if err != nil || len(secret) == 0 {
		return nil, huma.Error409Conflict("Begin anew: the secret that was shown serves no more.")
	}
	step, ok := onetime.Step(secret, in.Body.Code, s.Now(), 0)
	if !ok {
		return nil, wrongCode()
	}
	if err := s.Store.SetSecond(ctx, w.Account, secret, step); err != nil {
		return nil, err
	}
	s.Sessions.Remove(ctx, "second")
	s.Audit(ctx, w, "one-time codes set up", "")
	w.HasSecond = true
	return s.session(w), nil
}

// wrongCode is the answer to a code that does not serve.
func wrongCode() error {
	return huma.Error422UnprocessableEntity("That is not the code that the authenticator shows now. Each serves "+
		"once; the next comes within half a minute.", &huma.ErrorDetail{
		Location: "body.code", Message: "is not the code of now",
	})
}

func (s Handlers) endSecond(ctx context.Context, w api.Person, in *struct {
	Body struct {
		Password string `json:"password" minLength:"1" maxLength:"200" doc:"your password, again"`
	}
}) (*SessionOutput, error) {
	account, err := s.Store.AccountByID(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	if err := s.knows(ctx, account, in.Body.Password, "One-time codes are asked for as before."); err != nil {
		return nil, err
	}
	if w.Roles.OwesSecond(w.Settings.SecondFactor, false) {
		return nil, huma.Error409Conflict("The school asks your roles for one-time codes. Set them up on another " +
			"device instead: the new secret takes the place of this one.")
	}
	if err := s.Store.SetSecond(ctx, w.Account, nil, 0); err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "one-time codes ended", "")
	w.HasSecond = false
	return s.session(w), nil
}

// SecondAt asks at the sign-in for the code of an account that has a second
// factor. A code serves once.
func (s Handlers) SecondAt(ctx context.Context, account store.Account, code string) error {
	secret, err := s.Store.Second(account)
	if err != nil || secret == nil {
		return err
	}
	if code == "" {
		return huma.Error401Unauthorized("Now the code that your authenticator shows.", &huma.ErrorDetail{
			Location: "body.code", Message: "is asked for",
		})
	}
	err = s.Tried(ctx, api.BySecond, account.ID, func(bool) (bool, error) {
		step, ok := onetime.Step(secret, code, s.Now(), account.SecondUsed)
		if !ok {
			return false, nil
		}
		return s.Store.UseSecond(ctx, account.ID, step)
	})
	if errors.Is(err, api.ErrWrong) {
		return wrongCode()
	}
	return err
}

// recoverMember gives out a code by which somebody of the school comes back to
// their account, and to nothing else: who belongs to another school as well is not
// this school's to let in.
func (s Handlers) recoverMember(ctx context.Context, w api.Person,
	in *api.CodeFor) (*struct{ Body api.Invited }, error) {
	var m store.Member
	if err := s.In(ctx, w, func(tx *store.Tx) (err error) { m, err = tx.Member(in.ID); return err }); err != nil {
		return nil, err
	}
	memberships, err := s.Store.Memberships(ctx, in.ID)
	switch {
	case err != nil:
		return nil, err
	case !m.Active:
		return nil, huma.Error409Conflict(m.Name + " has left the school: take them back first.")
	case len(memberships) > 1:
		return nil, huma.Error409Conflict(m.Name +
			" belongs to another school as well: one school alone cannot open that account.")
	}
	code, hash, err := api.FreshCode()
	if err != nil {
		return nil, err
	}
	until := s.Now().Add(recoveryHours * time.Hour)
	told := fmt.Sprintf("%s gave out a code to come back to your account on %s. If you did not ask for it, tell "+
		"another chief instructor or administrator: whoever has it could sign in and sign as you.", w.Name,
		s.Now().In(w.Zone).Format(api.MomentFormat))
	if err := s.In(ctx, w, func(tx *store.Tx) error {
		return tx.AskRecovery(in.ID, hash, told, until,
			s.Now())
	}); err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "a code to come back to the account given out", in.ID)
	out := &struct{ Body api.Invited }{api.Invited{ID: in.ID, Path: "/recover/" + in.ID, Code: code, Until: until}}
	if in.Send {
		out.Body.Post(s.Letter(ctx, w, m.Member, "back to your account",
			w.Place+" lets you back to your account of Jet Primer.", out.Body))
	} else if s.Office != nil || w.HasLetters {
		// Whoever the code opens the account of is told of it, whoever got it.
		// it stands in their notices as well
		_ = s.Send(ctx, w, mail.Message{
			To: m.Email, Subject: w.Place + ": a code to your account", Text: m.Name + ",\n\n" + told + "\n",
		})
	}
	return out, nil
}

func (s Handlers) recover(ctx context.Context, _ api.Person, in *struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Code     string `json:"code" minLength:"1" maxLength:"40"`
		Password string `json:"password" minLength:"1" maxLength:"200" doc:"the new one"`
	}
}) (*SessionOutput, error) {
	account, err := s.Store.AccountByID(ctx, in.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	closed := huma.Error404NotFound("This link and code do not open an account: the code is another, its time is " +
		"over, or it was used. Ask your school for another.")
	switch err := s.Guess(ctx, api.ToRecover, in.ID, account.Recovery,
		strings.ToUpper(strings.TrimSpace(in.Body.Code))); {
	case errors.Is(err, api.ErrWrong):
		return nil, closed
	case err != nil:
		return nil, err
	case account.RecoveryUntil == nil || !s.Now().Before(*account.RecoveryUntil) || account.RecoverySchool == nil:
		return nil, closed
	}
	memberships, err := s.Store.Memberships(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	if len(memberships) != 1 || memberships[0].SchoolID != *account.RecoverySchool {
		return nil, closed // who belongs to another school as well by now is not this one's to let in
	}
	if err := access.CheckPassword(in.Body.Password, memberships[0].Name, account.Email); err != nil {
		return nil, err
	}
	hash, err := api.HashPassword(in.Body.Password)
	if err != nil {
		return nil, err
	}
	if err := s.Store.Recover(ctx, account, hash); errors.Is(err, store.ErrNotFound) {
		return nil, closed
	} else if err != nil {
		return nil, err
	}
	s.noteOf(ctx, account.ID,
		"came back to the account by a code: password set, PIN, passkeys, one-time codes and sessions ended")
	return s.Begin(ctx, account, "")
}

// deviceWords says what a person signs in with, as far as their browser tells.
func deviceWords(agent string) string {
	first := func(of [][2]string) string {
		for _, o := range of {
			if strings.Contains(agent, o[0]) {
				return o[1]
			}
		}
		return ""
	}
	browser := first(
		[][2]string{{"Firefox/", "Firefox"}, {"Edg/", "Edge"}, {"Chrome/", "Chrome"}, {"Safari/", "Safari"}})
	system := first([][2]string{
		{"Android", "Android"}, {"iPhone", "iPhone"}, {"iPad", "iPad"}, {"Windows", "Windows"}, {"Mac OS X", "macOS"},
		{"Linux", "Linux"},
	})
	switch {
	case browser == "" && system == "":
		return "a device"
	case system == "":
		return browser
	case browser == "":
		return system
	}
	return browser + " on " + system
}
