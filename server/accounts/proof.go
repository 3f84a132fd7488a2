package accounts

import (
	"context"
	"encoding/json"
	"errors"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"jetprimer/core/form"
	"jetprimer/server/api"
	"jetprimer/store"
)

// Proof is how a person proves once more who they are: one of the two.
type Proof struct {
	Password string `json:"password,omitempty" maxLength:"200" doc:"your password, again"`
	Pin      string `json:"pin,omitempty" maxLength:"12" doc:"your PIN instead"`
	// Passkey is what a device answered to the challenge of ask-passkey.
	Passkey json.RawMessage `json:"passkey,omitempty" doc:"a passkey's answer instead"`
}

// OfflineSignature is a signature that a device made without the school: over school,
// lesson, events seen, the signature's event and the moment, by its own key.
type OfflineSignature struct {
	Key       string `json:"key" minLength:"16" maxLength:"16" doc:"id of the device's key"`
	At        string `json:"at" format:"date-time" doc:"when it was promised, by the device's clock"`
	Signature []byte `json:"signature" doc:"ECDSA on P-256 with SHA-256: r and s, 32 bytes each"`
}

// Proves holds what a person gave against what is kept of them, and gives them
// as a signer.
func (s Handlers) Proves(ctx context.Context, w api.Person, subject string, again Proof) (store.Signer, error) {
	by := store.Signer{ID: w.Account, Name: w.Name, How: "password"}
	account, err := s.Store.AccountByID(ctx, w.Account)
	if err != nil {
		return by, err
	}
	field, given, hash := "password", again.Password, account.Password
	switch {
	case len(again.Passkey) > 0:
		by.How = "passkey"
		return by, s.passkeyProves(ctx, account.ID, again.Passkey)
	case again.Pin != "" && account.Pin == "":
		return by, form.Bad("pin", "is not set: set one with your password, or sign with the password")
	case again.Pin != "":
		by.How, field, given, hash = "pin", "pin", again.Pin, account.Pin
	case again.Password == "":
		return by, form.Bad("password", "is empty: signing asks for it again, or for the PIN")
	}
	switch err := s.Guess(ctx, api.ToSign, account.ID, hash, given); {
	case errors.Is(err, api.ErrWrong):
		s.Audit(ctx, w, "signature refused: wrong "+by.How, subject)
		called := map[string]string{"password": "password", "pin": "PIN"}[field]
		return by, huma.Error422UnprocessableEntity("That is not your "+called+
			". Nothing was signed, and nothing was lost.", &huma.ErrorDetail{
			Location: "body." + field, Message: "is not your " + called,
		})
	case err != nil:
		return by, err
	}
	return by, nil
}

// Over is what a promise signs.
func (p OfflineSignature) Over(school, lesson, eventHash, event string) []byte {
	return []byte(strings.Join([]string{"jetprimer-promise", school, lesson, eventHash, event, p.At}, "\n"))
}
