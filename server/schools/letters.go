package schools

import (
	"context"

	"jetprimer/mail"
	"jetprimer/server/api"
	"jetprimer/store"
)

// setLetters keeps the server through which the school sends its letters. A
// password that is not typed again stays, for the same server and user.
func (s Handlers) setLetters(ctx context.Context, w api.Person, in *struct{ Body mail.Server }) (*struct{}, error) {
	server := in.Body
	if err := server.Check(); err != nil {
		return nil, err
	}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		kept, err := tx.LetterServer()
		if err != nil {
			return err
		}
		if server.Password == "" && kept != nil && kept.Host == server.Host && kept.Port == server.Port &&
			kept.User == server.User {
			server.Password = kept.Password
		}
		return tx.SetLetterServer(&server)
	})
	if err == nil {
		s.Audit(ctx, w, "letters of the school sent through "+server.Host, "")
	}
	return nil, err
}

func (s Handlers) dropLetters(ctx context.Context, w api.Person, _ *struct{}) (*struct{}, error) {
	err := s.In(ctx, w, func(tx *store.Tx) error { return tx.SetLetterServer(nil) })
	if err == nil {
		s.Audit(ctx, w, "letters of the school sent through the program's server", "")
	}
	return nil, err
}

// tryLetters sends the person a letter of a line, and says why where it does not go.
func (s Handlers) tryLetters(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body LetterTry }, error) {
	me, err := s.Store.AccountByID(ctx, w.Account)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body LetterTry }{LetterTry{To: me.Email}}
	if err := s.Send(ctx, w, mail.Message{
		To: me.Email, Subject: w.Place + ": letters go out",
		Text: "This letter was sent to see whether letters of " + w.Place + " go out. They do.\n",
	}); err != nil {
		out.Body.Unsent = api.Sentence(err.Error())
	}
	return out, nil
}

// LetterTry says whether a letter went to its address.
type LetterTry struct {
	To     string `json:"to"`
	Unsent string `json:"unsent,omitempty" doc:"why it did not go"`
}
