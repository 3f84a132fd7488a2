package api

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

// MomentFormat is how a letter or a file for a person writes a moment of the school.
const MomentFormat = "2 January 2006, 15:04"

// Home is the address of this installation: the one that it was told, or that which who asks
// has reached it by.
func (s *API) Home(ctx context.Context) string {
	if s.at != "" {
		return s.at
	}
	if s.Sessions.Cookie.Secure {
		return "https://" + OriginOf(ctx).Host
	}
	return "http://" + OriginOf(ctx).Host
}

// linked is the home that links in letters may have: what a request names is believed on this
// machine only, since whoever asks can write another there.
func (s *API) linked(ctx context.Context) (string, error) {
	host, _, err := net.SplitHostPort(OriginOf(ctx).Host)
	if err != nil {
		host = OriginOf(ctx).Host
	}
	if ip, err := netip.ParseAddr(host); s.at == "" && host != "localhost" && (err != nil || !ip.IsLoopback()) {
		return "", errors.New("this program was not told its own address, and sends no links: start it with --home")
	}
	return s.Home(ctx), nil
}

// Letter sends somebody a link and its code.
func (s *API) Letter(ctx context.Context, w Person, to access.Member, subject, begins string, i Invited) error {
	home, err := s.linked(ctx)
	if err != nil {
		return err
	}
	return s.Send(ctx, w, mail.Message{To: to.Email, Subject: w.Place + ": " + subject, Text: fmt.Sprintf(`%s,

%s

Open this page and give the code; it serves once, until %s.

%s

%s

If you did not expect this, do nothing: without the code nothing opens.
`, to.Name, begins, i.Until.In(w.Zone).Format(MomentFormat), home+i.Path, i.Code)})
}

// Send sends a letter through the school's own server, or that of the program.
func (s *API) Send(ctx context.Context, w Person, l mail.Message) error {
	office := s.Office
	if w.HasLetters {
		err := s.In(ctx, w, func(tx *store.Tx) error {
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
		s.Log.Error("a letter could not be sent", "id", OriginOf(ctx).Id, "error",
			strings.ReplaceAll(err.Error(), l.To, "the person"))
	}
	return err
}
