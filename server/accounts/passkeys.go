package accounts

import (
	"context"
	"encoding/json"
	"fmt"
	"net"
	"net/http"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"

	"jetprimer/core/access"
	"jetprimer/core/form"
	"jetprimer/server/api"
	"jetprimer/store"
)

// passkeysMost is how many passkeys a person has at once.
const passkeysMost = 8

// passkeyChallenge is where a session keeps the challenge that it was asked.
const passkeyChallenge = "passkey"

type passkeyOptions struct {
	Body struct {
		Options json.RawMessage `json:"options" doc:"what the browser takes, as WebAuthn has it"`
	}
}

type keepPasskeyInput struct {
	Body struct {
		Credential json.RawMessage `json:"credential" doc:"what the browser answered, as WebAuthn has it"`
	}
}

func (s Handlers) passkeyRoutes() {
	api.Handle(s.API, api.Route{
		ID: "begin-passkey", For: access.Everyone, Method: http.MethodPost, Path: "/session/passkey/begin",
		Summary: "Begin to make a passkey", MaxBodyBytes: 4 << 10,
	}, s.beginPasskey)
	api.Handle(s.API, api.Route{
		ID: "keep-passkey", For: access.Everyone, Method: http.MethodPost, Path: "/session/passkey",
		Summary: "Keep a passkey of this device", MaxBodyBytes: 64 << 10,
	}, s.keepPasskey)
	api.Handle(s.API, api.Route{
		ID: "ask-passkey", For: access.Everyone, Method: http.MethodPost, Path: "/session/passkey/ask",
		Summary: "Ask for a passkey, to sign with",
	}, s.askPasskey)
}

// holder is a person as the library knows one.
type holder struct {
	store.Account
	keys []webauthn.Credential
}

func (h holder) WebAuthnID() []byte                         { return []byte(h.ID) }
func (h holder) WebAuthnName() string                       { return h.Email }
func (h holder) WebAuthnDisplayName() string                { return h.Name }
func (h holder) WebAuthnCredentials() []webauthn.Credential { return h.keys }

// holderOf reads a person's passkeys.
func holderOf(a store.Account) (holder, error) {
	h := holder{Account: a}
	for _, k := range a.Passkeys {
		var one webauthn.Credential
		if err := json.Unmarshal(k, &one); err != nil {
			return h, fmt.Errorf("reading a passkey: %w", err)
		}
		h.keys = append(h.keys, one)
	}
	return h, nil
}

// relying is this school's address as passkeys know it: they need a name, and
// none is bound to a bare number.
func (s Handlers) relying(ctx context.Context) (*webauthn.WebAuthn, error) {
	host := api.OriginOf(ctx).Host
	name, _, err := net.SplitHostPort(host)
	if err != nil {
		name = host
	}
	if name == "" || net.ParseIP(name) != nil {
		return nil, form.Bad("passkey",
			"needs a name and not a number in the address, such as localhost or the school’s own host; password and "+
				"PIN work everywhere")
	}
	return webauthn.New(&webauthn.Config{RPID: name, RPDisplayName: "Jet Primer", RPOrigins: []string{s.Home(ctx)}})
}

// holding is this school's address and a person with their passkeys.
func (s Handlers) holding(ctx context.Context, account string) (*webauthn.WebAuthn, holder, error) {
	relying, err := s.relying(ctx)
	if err != nil {
		return nil, holder{}, err
	}
	a, err := s.Store.AccountByID(ctx, account)
	if err != nil {
		return nil, holder{}, err
	}
	h, err := holderOf(a)
	return relying, h, err
}

// challenge keeps what was asked and gives the options for the browser.
func (s Handlers) challenge(ctx context.Context, options any, asked *webauthn.SessionData) (*passkeyOptions, error) {
	kept, err := json.Marshal(asked)
	if err != nil {
		return nil, err
	}
	s.Sessions.Put(ctx, passkeyChallenge, string(kept))
	out := &passkeyOptions{}
	out.Body.Options, err = json.Marshal(options)
	return out, err
}

// ceremony is the challenge that was kept; it serves once.
func (s Handlers) ceremony(ctx context.Context) (webauthn.SessionData, error) {
	var asked webauthn.SessionData
	if json.Unmarshal([]byte(s.Sessions.PopString(ctx, passkeyChallenge)), &asked) != nil {
		return asked, form.Bad("passkey", "was not asked for, or too long ago: try again")
	}
	return asked, nil
}

func (s Handlers) beginPasskey(ctx context.Context, w api.Person, in *struct{ Body Proof }) (*passkeyOptions, error) {
	relying, h, err := s.holding(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	if _, err := s.Proves(ctx, w, "passkey", in.Body); err != nil {
		return nil, err
	}
	options, asked, err := relying.BeginRegistration(h,
		webauthn.WithAuthenticatorSelection(protocol.AuthenticatorSelection{
			UserVerification: protocol.VerificationRequired,
		}))
	if err != nil {
		return nil, fmt.Errorf("beginning a passkey: %w", err)
	}
	return s.challenge(ctx, options.Response, asked)
}

func (s Handlers) keepPasskey(ctx context.Context, w api.Person, in *keepPasskeyInput) (*SessionOutput, error) {
	relying, h, err := s.holding(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	asked, err := s.ceremony(ctx)
	if err != nil {
		return nil, err
	}
	answer, err := protocol.ParseCredentialCreationResponseBytes(in.Body.Credential)
	if err != nil {
		return nil, form.Bad("credential", "cannot be read: %v", err)
	}
	made, err := relying.CreateCredential(h, asked, answer)
	if err != nil {
		return nil, form.Bad("credential", "does not answer what was asked: %v", err)
	}
	key, err := json.Marshal(made)
	if err != nil {
		return nil, err
	}
	keys := append(h.Passkeys, key)
	if err := s.Store.SetPasskeys(ctx, w.Account, keys[max(0, len(keys)-passkeysMost):]); err != nil {
		return nil, err
	}
	s.Audit(ctx, w, "passkey kept", "")
	w.HasPasskey = true
	return s.session(w), nil
}

func (s Handlers) askPasskey(ctx context.Context, w api.Person, _ *struct{}) (*passkeyOptions, error) {
	relying, h, err := s.holding(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	if len(h.keys) == 0 {
		return nil, form.Bad("passkey", "is not set: make one first, or sign with the password")
	}
	options, asked, err := relying.BeginLogin(h, webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return nil, fmt.Errorf("asking for a passkey: %w", err)
	}
	return s.challenge(ctx, options.Response, asked)
}

// passkeyProves holds a passkey's answer to what was asked.
func (s Handlers) passkeyProves(ctx context.Context, account string, given json.RawMessage) error {
	relying, h, err := s.holding(ctx, account)
	if err != nil {
		return err
	}
	asked, err := s.ceremony(ctx)
	if err != nil {
		return err
	}
	answer, err := protocol.ParseCredentialRequestResponseBytes(given)
	if err != nil {
		return form.Bad("passkey", "cannot be read: %v", err)
	}
	used, err := relying.ValidateLogin(h, asked, answer)
	if err != nil {
		return form.Bad("passkey",
			"is not yours, or does not answer what was asked. Nothing was signed, and nothing was lost")
	}
	if used.Authenticator.CloneWarning {
		s.Log.Warn("a passkey counts backwards", "id", api.OriginOf(ctx).Id, "account", account)
		return form.Bad("passkey",
			"counts backwards: there may be a copy of it. Sign with the password, and make another passkey. Nothing "+
				"was signed, and nothing was lost")
	}
	// An answer signs once, however often it is sent at the same moment.
	if fresh, err := s.Store.SpendChallenge(ctx, asked.Challenge, s.Now()); err != nil {
		return err
	} else if !fresh {
		return form.Bad("passkey", "has answered this already: try again")
	}
	// Its count moves on: a copy of it would be found out.
	for i, k := range h.keys {
		if string(k.ID) != string(used.ID) {
			continue
		}
		if h.Passkeys[i], err = json.Marshal(used); err != nil {
			return err
		}
	}
	return s.Store.SetPasskeys(ctx, account, h.Passkeys)
}
