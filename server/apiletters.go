package server

import (
	"context"
	"errors"
	"fmt"
	"jetprimer/core/access"
	"jetprimer/mail"
	"jetprimer/store"
	"net"
	"net/netip"
	"strings"
)

// home is the address of this installation: the one that it was told, or that which who asks
// has reached it by.
func (s *API) home(ctx context.Context) string {
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
func (s *API) linked(ctx context.Context) (string, error) {
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
func (s *API) letter(ctx context.Context, w who, to access.Member, subject, begins string, i Invited) error {
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
func (s *API) send(ctx context.Context, w who, l mail.Message) error {
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
