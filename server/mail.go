package server

import (
	"context"
	"errors"
	"fmt"
	"net"
	"net/netip"
	"strings"

	"jetprimer/core/access"
	"jetprimer/mail"
	"jetprimer/store"
)

// home is the address of this installation: the one that it was told, or that which who asks
// has reached it by.
func (s *Server) home(ctx context.Context) string {
	if s.at != "" {
		return s.at
	}
	if s.sessions.Cookie.Secure {
		return "https://" + origin(ctx).host
	}
	return "http://" + origin(ctx).host
}

// linked is the home that links in letters may have: what a request names is believed on this
// machine only, since whoever asks can write another there.
func (s *Server) linked(ctx context.Context) (string, error) {
	host, _, err := net.SplitHostPort(origin(ctx).host)
	if err != nil {
		host = origin(ctx).host
	}
	if ip, err := netip.ParseAddr(host); s.at == "" && host != "localhost" && (err != nil || !ip.IsLoopback()) {
		return "", errors.New("this program was not told its own address, and sends no links: start it with --home")
	}
	return s.home(ctx), nil
}

// letter sends somebody a link and its code.
func (s *Server) letter(ctx context.Context, w who, to access.Member, subject, begins string, i Invited) error {
	home, err := s.linked(ctx)
	if err != nil {
		return err
	}
	return s.send(ctx, w, mail.Message{To: to.Email, Subject: w.place + ": " + subject, Text: fmt.Sprintf(`%s,

%s

Open this page and give the code; it serves once, until %s.

%s

%s

If you did not expect this, do nothing: without the code nothing opens.
`, to.Name, begins, i.Until.In(w.zone).Format("2 January 2006, 15:04"), home+i.Path, i.Code)})
}

// send sends a letter through the school's own server, or that of the program.
func (s *Server) send(ctx context.Context, w who, l mail.Message) error {
	office := s.office
	if w.hasLetters {
		err := s.in(ctx, w, func(tx *store.Tx) error {
			server, err := tx.LetterServer()
			if err == nil && server != nil {
				office, err = mail.Open(*server, s.letters)
			}
			return err
		})
		if err != nil {
			return err
		}
	}
	if office == nil {
		return errors.New("this program has no server for letters")
	}
	err := office.Send(ctx, l)
	if err != nil { // an address has no place in the log
		s.log.Error("a letter could not be sent", "id", origin(ctx).id, "error",
			strings.ReplaceAll(err.Error(), l.To, "the person"))
	}
	return err
}

// setLetters keeps the server through which the school sends its letters. A
// password that is not typed again stays, for the same server and user.
func (s *Server) setLetters(ctx context.Context, w who, in *struct{ Body mail.Server }) (*struct{}, error) {
	server := in.Body
	if err := server.Check(); err != nil {
		return nil, err
	}
	err := s.in(ctx, w, func(tx *store.Tx) error {
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
		s.audit(ctx, w, "letters of the school sent through "+server.Host, "")
	}
	return nil, err
}

func (s *Server) dropLetters(ctx context.Context, w who, _ *struct{}) (*struct{}, error) {
	err := s.in(ctx, w, func(tx *store.Tx) error { return tx.SetLetterServer(nil) })
	if err == nil {
		s.audit(ctx, w, "letters of the school sent through the program's server", "")
	}
	return nil, err
}

// tryLetters sends the person a letter of a line, and says why where it does not go.
func (s *Server) tryLetters(ctx context.Context, w who, _ *struct{}) (*struct{ Body LetterTry }, error) {
	me, err := s.store.AccountByID(ctx, w.account)
	if err != nil {
		return nil, err
	}
	out := &struct{ Body LetterTry }{LetterTry{To: me.Email}}
	if err := s.send(ctx, w, mail.Message{
		To: me.Email, Subject: w.place + ": letters go out",
		Text: "This letter was sent to see whether letters of " + w.place + " go out. They do.\n",
	}); err != nil {
		out.Body.Unsent = sentence(err.Error())
	}
	return out, nil
}

// LetterTry says whether a letter went to its address.
type LetterTry struct {
	To     string `json:"to"`
	Unsent string `json:"unsent,omitempty" doc:"why it did not go"`
}

// post notes whether a letter was sent.
func (i *Invited) post(err error) {
	i.Sent = err == nil
	if err != nil {
		i.Unsent = sentence(err.Error())
	}
}
