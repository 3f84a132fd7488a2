package schools

import (
	"context"
	"net/http"
	"strings"

	"jetprimer/core/access"
	"jetprimer/core/school"
	"jetprimer/core/weather"
	"jetprimer/mail"
	"jetprimer/server/api"
	"jetprimer/store"
)

// Place is the school itself: what it is called, where its day is told, and where
// it flies from.
type Place struct {
	Name     string              `json:"name"`
	TimeZone string              `json:"timeZone"`
	Bases    []weather.Aerodrome `json:"bases"`
	Surfaces []string            `json:"surfaces" doc:"what a runway can be of"`
	// Letters is the school's own server for letters, without its password.
	Letters *mail.Server `json:"letters,omitempty"`
	// Post says that the program has a server for letters.
	Post bool `json:"post"`
}

func (s Handlers) placeRoutes() {
	api.Handle(s.API, api.Route{
		ID: "place", For: access.Governing, Method: http.MethodGet, Path: "/place",
		Summary: "The school itself and where it flies from",
	}, s.place)
	api.Handle(s.API, api.Route{
		ID: "set-place", For: access.Governing, Method: http.MethodPut, Path: "/place",
		Summary: "Another name or time zone of the school", MaxBodyBytes: 4 << 10,
	}, s.setPlace)
	api.Handle(s.API, api.Route{
		ID: "set-base", For: access.Governing, Method: http.MethodPut, Path: "/place/bases",
		Summary: "Add a base, or change it", MaxBodyBytes: 64 << 10,
	}, s.setBase)
	api.Handle(s.API, api.Route{
		ID: "set-letters", For: access.Governing, Method: http.MethodPut, Path: "/place/letters",
		Summary: "Send the school's letters through a server of its own", MaxBodyBytes: 4 << 10,
	}, s.setLetters)
	api.Handle(s.API, api.Route{
		ID: "drop-letters", For: access.Governing, Method: http.MethodDelete, Path: "/place/letters",
		Summary: "Send the school's letters through the program's server",
	}, s.dropLetters)
	api.Handle(s.API, api.Route{
		ID: "try-letters", For: access.Governing, Method: http.MethodPost, Path: "/place/letters/try",
		Summary: "Send a letter to myself",
	}, s.tryLetters)
}

func (s Handlers) place(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body Place }, error) {
	out := &struct{ Body Place }{
		Place{Name: w.Place, TimeZone: w.Zone.String(), Surfaces: weather.Surfaces, Post: s.Office != nil},
	}
	return out, s.In(ctx, w, func(tx *store.Tx) (err error) {
		if out.Body.Bases, err = tx.Bases(); err != nil {
			return err
		}
		out.Body.Letters, err = tx.LetterServer()
		if out.Body.Letters != nil {
			out.Body.Letters.Password = ""
		}
		return err
	})
}

func (s Handlers) setPlace(ctx context.Context, w api.Person, in *struct {
	Body struct {
		Name     string `json:"name" maxLength:"200"`
		TimeZone string `json:"timeZone" maxLength:"60"`
	}
}) (*struct{}, error) {
	name := strings.Join(strings.Fields(in.Body.Name), " ")
	if err := school.CheckPlace(name, in.Body.TimeZone); err != nil {
		return nil, err
	}
	err := s.In(ctx, w, func(tx *store.Tx) error { return tx.SetPlace(name, in.Body.TimeZone) })
	if err == nil {
		s.Audit(ctx, w, "school called "+name+", its day told in "+in.Body.TimeZone, "")
	}
	return nil, err
}

func (s Handlers) setBase(ctx context.Context, w api.Person, in *struct{ Body weather.Aerodrome }) (*struct{}, error) {
	base := in.Body.Tidy()
	if err := base.Check("base"); err != nil {
		return nil, err
	}
	err := s.In(ctx, w, func(tx *store.Tx) error { return tx.SetBase(base, school.BasesMost) })
	if err == nil {
		s.Audit(ctx, w, "base kept", base.ID)
	}
	return nil, err
}
