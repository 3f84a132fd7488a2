package server

import (
	"context"
	"errors"
	"fmt"

	"jetprimer/core/school"
	"jetprimer/post"
)

// letter sends somebody a link and its code.
func (s *Server) letter(ctx context.Context, w who, to school.Member, subject, begins string, i Invited) error {
	if s.office == nil {
		return errors.New("this program has no server for letters")
	}
	scheme := "http://"
	if s.sessions.Cookie.Secure {
		scheme = "https://"
	}
	err := s.office.Send(ctx, post.Letter{To: to.Email, Subject: w.place + ": " + subject, Text: fmt.Sprintf(`%s,

%s

Open this page and give the code; it serves once, until %s.

%s

%s

If you did not expect this, do nothing: without the code nothing opens.
`, to.Name, begins, i.Until.In(w.zone).Format("2 January 2006, 15:04"), scheme+origin(ctx).host+i.Path, i.Code)})
	if err != nil {
		s.log.Error("a letter could not be sent", "id", origin(ctx).id, "error", err.Error())
	}
	return err
}

// post notes whether a letter was sent.
func (i *Invited) post(err error) {
	i.Sent = err == nil
	if err != nil {
		i.Unsent = sentence(err.Error())
	}
}
