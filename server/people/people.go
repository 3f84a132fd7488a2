package people

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/access"
	"jetprimer/core/school"
	"jetprimer/reports"
	"jetprimer/server/accounts"
	"jetprimer/server/api"
	"jetprimer/store"
)

// People is everybody who is or was of the school, and who is invited.
type People struct {
	Members     []store.Member     `json:"members"`
	Invitations []store.Invitation `json:"invitations" doc:"those not used yet, the newest first"`
	Teaching    []reports.Named    `json:"teaching" doc:"who can be a student's instructor"`
	Types       []reports.Named    `json:"types" doc:"the aircraft types in force, for what a student trains on"`
	// KeepYears is for how long the names of those who left are kept, Due whose time
	// is over.
	KeepYears int      `json:"keepYears"`
	Due       []string `json:"due"`
}

type inviteInput struct {
	Send bool `query:"send" doc:"by letter, to the address"`
	Body struct{ access.Member }
}

type memberInput struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		access.Member
		Active bool `json:"active" doc:"false lets the person go: the record stays, nobody signs in"`
	}
}

type joinInput struct {
	School string `path:"school" format:"uuid"`
	ID     string `path:"id" format:"uuid"`
	Body   struct {
		Code     string `json:"code" minLength:"1" maxLength:"40"`
		Password string `json:"password,omitempty" maxLength:"200" doc:"the new one, or that of the account that is known here already"`
		Second   string `json:"second,omitempty" maxLength:"12" doc:"the code of the authenticator, where that account has one"`
	}
}

// Joining is what an invitation says to whom it invites.
type Joining struct {
	School string       `json:"school"`
	Name   string       `json:"name"`
	Email  string       `json:"email"`
	Roles  access.Roles `json:"roles"`
	// Known says that the address belongs to an account already: its password
	// is asked for, and none is made.
	Known bool `json:"known"`
}

func (s Handlers) peopleRoutes() {
	api.Handle(s.API, api.Route{
		ID: "people", For: access.Governing, Method: http.MethodGet, Path: "/people",
		Summary: "Everybody of the school, and who is invited",
	}, s.people)
	api.Handle(s.API, api.Route{
		ID: "set-member", For: access.Governing, Method: http.MethodPut, Path: "/people/{id}",
		Summary: "Change what the school writes down of a person, or let them go", MaxBodyBytes: 8 << 10,
	}, s.setMember)
	api.Handle(s.API, api.Route{
		ID: "erase-person", For: access.Governing, Method: http.MethodPost, Path: "/people/{id}/erase",
		Summary: "Replace the name of somebody who left by a pseudonym, for good", MaxBodyBytes: 4 << 10,
		Status: http.StatusNoContent,
	}, s.erasePerson)
	api.Handle(s.API, api.Route{
		ID: "invite", For: access.Governing, Method: http.MethodPost, Path: "/invitations",
		Summary: "Invite somebody by a link and a one-time code", MaxBodyBytes: 8 << 10,
	}, s.invite)
	api.Handle(s.API, api.Route{
		ID: "renew-invitation", For: access.Governing, Method: http.MethodPost, Path: "/invitations/{id}/renew",
		Summary: "Another code for an invitation",
	}, s.renewInvitation)
	api.Handle(s.API, api.Route{
		ID: "withdraw-invitation", For: access.Governing, Method: http.MethodPost, Path: "/invitations/{id}/withdraw",
		Summary: "End an invitation", Status: http.StatusNoContent,
	}, s.withdrawInvitation)
	api.Handle(s.API, api.Route{
		ID: "invited", For: access.Anyone, Method: http.MethodPost, Path: "/join/{school}/{id}",
		Summary: "What an invitation says", MaxBodyBytes: 4 << 10,
	}, s.invited)
	api.Handle(s.API, api.Route{
		ID: "join", For: access.Anyone, Method: http.MethodPost, Path: "/join/{school}/{id}/enter",
		Summary: "Come into the school by an invitation, and sign in", MaxBodyBytes: 4 << 10,
	}, s.join)
}

func (s Handlers) people(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body People }, error) {
	out := &struct{ Body People }{People{Due: []string{}}}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		if out.Body.Members, err = tx.Members(); err != nil {
			return err
		}
		if out.Body.Invitations, err = tx.Invitations(); err != nil {
			return err
		}
		decided, err := tx.Policy(s.Today(w))
		if err != nil {
			return err
		}
		for _, m := range out.Body.Members {
			if m.LeftOn != "" && !m.Erased && school.KeptUntil(m.LeftOn, decided.KeepYears) < s.Today(w) {
				out.Body.Due = append(out.Body.Due, m.ID)
			}
		}
		out.Body.KeepYears = decided.KeepYears
		types, err := tx.Types(s.Today(w))
		out.Body.Types, out.Body.Teaching = []reports.Named{}, []reports.Named{}
		for _, m := range out.Body.Members {
			if m.Active && m.Roles.Teach() {
				out.Body.Teaching = append(out.Body.Teaching, reports.Named{ID: m.ID, Name: m.Name})
			}
		}
		for _, t := range types {
			out.Body.Types = append(out.Body.Types, reports.Named{ID: t.ID, Name: t.Name})
		}
		return err
	})
}

// erasePerson replaces a name by a pseudonym; nobody erases their own.
func (s Handlers) erasePerson(ctx context.Context, w api.Person, in *struct {
	ID   string `path:"id" format:"uuid"`
	Body struct {
		Name string `json:"name" maxLength:"200" doc:"the person's name, typed as it stands"`
	}
}) (*struct{}, error) {
	err := s.In(ctx, w, func(tx *store.Tx) error { return tx.Erase(in.ID, strings.TrimSpace(in.Body.Name), s.Now()) })
	if err == nil {
		s.Audit(ctx, w, "name erased", in.ID)
	}
	return nil, err
}

func (s Handlers) setMember(ctx context.Context, w api.Person, in *memberInput) (*struct{ Body store.Member }, error) {
	out := &struct{ Body store.Member }{}
	m := in.Body.Tidy()
	err := s.In(ctx, w, func(tx *store.Tx) error {
		before, err := tx.Member(in.ID)
		if err != nil {
			return err
		}
		m.Email = before.Email // whoever signs in by it changes it
		if err := m.Check(); err != nil {
			return err
		}
		if err := tx.SetMember(in.ID, m, in.Body.Active, s.Today(w)); err != nil {
			return err
		}
		out.Body, err = tx.Member(in.ID)
		return err
	})
	if err == nil {
		s.Audit(ctx, w,
			"member changed to "+strings.Join(m.Roles, ", ")+map[bool]string{false: ", let go"}[in.Body.Active], in.ID)
	}
	return out, err
}

func (s Handlers) invite(ctx context.Context, w api.Person, in *inviteInput) (*struct{ Body api.Invited }, error) {
	m := in.Body.Tidy()
	if err := m.Check(); err != nil {
		return nil, err
	}
	out := &struct{ Body api.Invited }{}
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		out.Body, err = s.InviteIn(tx, w, m)
		return err
	})
	if err == nil {
		s.Audit(ctx, w, "invited as "+strings.Join(m.Roles, ", "), out.Body.ID)
		s.inviteBy(ctx, w, in.Send, m, &out.Body)
	}
	return out, err
}

// inviteBy sends an invitation by letter where that is asked for.
func (s Handlers) inviteBy(ctx context.Context, w api.Person, send bool, m access.Member, i *api.Invited) {
	if send {
		i.Post(s.Letter(ctx, w, m, "your invitation",
			fmt.Sprintf("%s invites you to Jet Primer, as %s.", w.Place, strings.Join(m.Roles, ", ")), *i))
	}
}

// InviteIn keeps a place for somebody, with a fresh code.
func (s Handlers) InviteIn(tx *store.Tx, w api.Person, m access.Member) (api.Invited, error) {
	code, hash, err := api.FreshCode()
	if err != nil {
		return api.Invited{}, err
	}
	i := store.Invitation{
		ID: api.NewID(), Member: m, Code: hash, InvitedBy: w.Account, InvitedAt: s.Now(),
		Until: s.Now().AddDate(0, 0, api.InvitationDays),
	}
	return api.Invited{ID: i.ID, Path: api.JoinPath(w.School, i.ID), Code: code, Until: i.Until},
		tx.Invite(i, s.Today(w))
}

func (s Handlers) renewInvitation(ctx context.Context, w api.Person,
	in *api.CodeFor) (*struct{ Body api.Invited }, error) {
	code, hash, err := api.FreshCode()
	if err != nil {
		return nil, err
	}
	until := s.Now().AddDate(0, 0, api.InvitationDays)
	var i store.Invitation
	if err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		if err := tx.RenewInvitation(in.ID, hash, until); err != nil {
			return err
		}
		i, err = tx.Invitation(in.ID)
		return err
	}); err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "invitation renewed", in.ID)
	out := &struct{ Body api.Invited }{api.Invited{ID: in.ID, Path: api.JoinPath(w.School, in.ID), Code: code,
		Until: until}}
	s.inviteBy(ctx, w, in.Send, i.Member, &out.Body)
	return out, nil
}

func (s Handlers) withdrawInvitation(ctx context.Context, w api.Person, in *api.ID) (*struct{}, error) {
	err := s.In(ctx, w, func(tx *store.Tx) error { return tx.WithdrawInvitation(in.ID, s.Now()) })
	if err == nil {
		s.Audit(ctx, w, "invitation withdrawn", in.ID)
	}
	return nil, err
}

// invitation holds a code against an invitation. What is wrong, over, used or
// withdrawn gives the same answer.
func (s Handlers) invitation(ctx context.Context, in *joinInput) (i store.Invitation, place string,
	account store.Account, err error) {
	err = s.Store.In(ctx, in.School, func(_ context.Context, tx *store.Tx) (err error) {
		if i, err = tx.Invitation(in.ID); err == nil {
			place, err = tx.SchoolName()
		}
		return err
	})
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return i, place, account, err
	}
	closed := huma.Error404NotFound("This link and code do not invite: the code is another, its time is over, or it " +
		"was used or withdrawn. Ask your school for another.")
	switch err := s.Guess(ctx, api.ToJoin, in.ID, i.Code, strings.ToUpper(strings.TrimSpace(in.Body.Code))); {
	case errors.Is(err, api.ErrWrong):
		return i, place, account, closed
	case err != nil:
		return i, place, account, err
	case !i.Open(s.Now()):
		return i, place, account, closed
	}
	account, err = s.Store.AccountByEmail(ctx, i.Email)
	if errors.Is(err, store.ErrNotFound) {
		err = nil
	}
	return i, place, account, err
}

func (s Handlers) invited(ctx context.Context, _ api.Person, in *joinInput) (*struct{ Body Joining }, error) {
	i, place, account, err := s.invitation(ctx, in)
	if err != nil {
		return nil, err
	}
	return &struct{ Body Joining }{Joining{place, i.Name, i.Email, i.Roles, account.ID != ""}}, nil
}

func (s Handlers) join(ctx context.Context, _ api.Person, in *joinInput) (*accounts.SessionOutput, error) {
	i, _, account, err := s.invitation(ctx, in)
	if err != nil {
		return nil, err
	}
	fresh := account.ID == ""
	if fresh {
		if err := access.CheckPassword(in.Body.Password, i.Name, i.Email); err != nil {
			return nil, err
		}
		hash, err := api.HashPassword(in.Body.Password)
		if err != nil {
			return nil, err
		}
		account = store.Account{ID: api.NewID(), Email: i.Email, Name: i.Name, Password: hash}
	} else {
		switch err := s.Guess(ctx, api.ToSignIn, account.ID, account.Password, in.Body.Password); {
		case errors.Is(err, api.ErrWrong):
			return nil, huma.Error422UnprocessableEntity("That is not the password of the account that this address "+
				"has here.", &huma.ErrorDetail{
				Location: "body.password", Message: "is not the account's",
			})
		case err != nil:
			return nil, err
		}
		if err := accounts.New(s.API).SecondAt(ctx, account, in.Body.Second); err != nil {
			return nil, err
		}
	}
	err = s.Store.In(ctx, in.School, func(_ context.Context, tx *store.Tx) error {
		return tx.Enter(i, account, fresh, school.Day(s.Now(), tx.Zone), s.Now())
	})
	if err != nil {
		return nil, err
	}
	return accounts.New(s.API).Begin(ctx, account, in.School)
}
