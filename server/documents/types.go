package documents

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"jetprimer/catalog"
	"jetprimer/core/access"
	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/handbook"
	"jetprimer/core/library"
	"jetprimer/core/quantity"
	"jetprimer/server/api"
	"jetprimer/store"
)

// KindsView is what the description of a type can begin with.
type KindsView struct {
	Kinds []catalog.Kind    `json:"kinds"`
	Types []library.Version `json:"types" doc:"the types that serve today, of which one can be copied"`
}

type describeInput struct {
	Body struct {
		Kind   string         `json:"kind,omitempty" maxLength:"64" doc:"the kind to begin from; or a copy"`
		Copy   string         `json:"copy,omitempty" maxLength:"64" doc:"the type to copy"`
		Name   string         `json:"name" minLength:"1" maxLength:"60"`
		Source string         `json:"source" minLength:"1" maxLength:"200" doc:"the handbook and its revision"`
		Units  quantity.Units `json:"units" doc:"those that the handbook gives its numbers in"`
	}
}

// StartedList is a first list of a type, and what is not on it.
type StartedList struct {
	Version int              `json:"version"`
	ID      string           `json:"id"`
	Left    []checklist.Left `json:"left"`
}

func (s Handlers) typeRoutes() {
	api.Handle(s.API, api.Route{
		ID: "kinds", For: access.Teaching, Method: http.MethodGet, Path: "/kinds",
		Summary: "What a type can be described from",
	}, s.kinds)
	api.Handle(s.API, api.Route{
		ID: "describe-type", For: access.Teaching, Method: http.MethodPost, Path: "/types",
		Summary: "Begin to describe a type from its handbook",
	}, s.describeType)
	api.Handle(s.API, api.Route{
		ID: "start-list", For: access.Teaching, Method: http.MethodPost, Path: "/types/{id}/{version}/list",
		Summary: "Make a starting list for a type",
	}, s.startList)
}

func (s Handlers) kinds(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body KindsView }, error) {
	out := &struct{ Body KindsView }{KindsView{Kinds: s.Catalog.Kinds, Types: []library.Version{}}}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		serving, err := tx.InForce("", s.Today(w))
		for _, v := range serving {
			if v.Kind == library.KindType {
				out.Body.Types = append(out.Body.Types, v)
			}
		}
		return err
	})
	return out, err
}

func (s Handlers) describeType(ctx context.Context, w api.Person,
	in *describeInput) (*struct{ Body DocumentView }, error) {
	b := &in.Body
	b.Name, b.Source = strings.TrimSpace(b.Name), strings.TrimSpace(b.Source)
	id := checklist.Slug(b.Name)
	switch {
	case id == "":
		return nil, form.Bad("name", "needs letters or digits")
	case b.Source == "":
		return nil, form.Bad("source", "must name the handbook and its revision")
	case (b.Kind == "") == (b.Copy == ""):
		return nil, form.Bad("kind", "or copy must be given, one of the two")
	}
	if err := b.Units.Check(); err != nil {
		return nil, form.Bad("units", "%v", err)
	}
	version := 0
	err := s.In(ctx, w, func(tx *store.Tx) error {
		t, err := s.modelOf(tx, w, b.Kind, b.Copy)
		if err != nil {
			return err
		}
		all, err := tx.Versions("")
		if err != nil {
			return err
		}
		if slices.ContainsFunc(all, func(v library.Version) bool { return v.Kind == library.KindType && v.ID == id }) {
			return form.Bad("name", "%q is a type already: write a new version of that, or take another name", b.Name)
		}
		t.ID, t.Name, t.Source, t.Handbook.Units = id, b.Name, b.Source, b.Units
		version, err = tx.AddDraft(library.KindType, id, id, b.Name, func(version int) ([]byte, error) {
			t.Version = version
			return json.Marshal(t)
		}, w.Account, s.Now())
		return err
	})
	if err != nil {
		return nil, err
	}
	return s.document(ctx, w, &VersionInput{library.KindType, id, version})
}

// modelOf is what a description begins with: a kind without its numbers, or a copy.
func (s Handlers) modelOf(tx *store.Tx, w api.Person, kind, copied string) (aircraft.Type, error) {
	if copied != "" {
		model, err := tx.Type(copied, s.Today(w))
		if errors.Is(err, store.ErrNotFound) {
			return model, form.Bad("copy", "%q is no type that serves", copied)
		}
		if err != nil {
			return model, err
		}
		return handbook.Copy(model)
	}
	i := slices.IndexFunc(s.Catalog.Kinds, func(k catalog.Kind) bool { return k.ID == kind })
	if i < 0 {
		return aircraft.Type{}, form.Bad("kind", "%q is none of the kinds", kind)
	}
	model, _ := s.Catalog.Type(s.Catalog.Kinds[i].Like)
	return handbook.Blank(model)
}

// confirmType is the review of a type: a second person has held its numbers to
// the pages. Checks that lack limits are left off.
func (s Handlers) confirmType(tx *store.Tx, w api.Person, v library.Version, compared []string) error {
	if err := v.MayConfirm(w.Account); err != nil {
		return err
	}
	t, err := store.Document[aircraft.Type](tx, v.Kind, v.ID, v.Version)
	if err != nil {
		return err
	}
	if t, err = handbook.Settle(t); err != nil {
		return form.Problem{Reason: "the type cannot be confirmed yet: " + err.Error()}
	}
	missed, err := handbook.Compared(t, compared)
	switch {
	case err != nil:
		return err
	case len(missed) > 0:
		return form.Problem{
			Reason: notHeld(len(missed)) + ", the first: " + missed[0],
		}
	}
	body, err := json.Marshal(t)
	if err != nil {
		return err
	}
	if _, mistakes := readDocument(v.Kind, body); len(mistakes) > 0 {
		return form.Problem{Reason: "the type cannot be confirmed yet: " + mistakes[0].Error()}
	}
	return tx.Confirm(v, body, w.Account, s.Now())
}

// typeServes refuses to bring a list, a layer or an aid into force before its
// type is: nobody has confirmed that one's limits yet.
func typeServes(tx *store.Tx, v library.Version, from string) error {
	if v.Kind == library.KindType || v.AircraftType == "" {
		return nil
	}
	_, err := tx.Type(v.AircraftType, from)
	if errors.Is(err, store.ErrNotFound) {
		return form.Problem{
			Reason: fmt.Sprintf("the type %s is not in force on %s: its numbers are confirmed first", v.AircraftType,
				from),
		}
	}
	return err
}

// startList makes a first list for a type from the list of what it was described
// from.
func (s Handlers) startList(ctx context.Context, w api.Person, in *struct {
	ID      string `path:"id" maxLength:"64"`
	Version int    `path:"version" minimum:"1" maximum:"1000000"`
}) (*struct{ Body StartedList }, error) {
	out := &struct{ Body StartedList }{StartedList{Left: []checklist.Left{}}}
	err := s.withVersion(ctx, w, VersionInput{library.KindType, in.ID, in.Version},
		func(tx *store.Tx, v library.Version) error {
			t, err := store.Document[aircraft.Type](tx, v.Kind, v.ID, v.Version)
			if err != nil {
				return err
			}
			if t.Handbook == nil || t.Handbook.From == nil {
				return form.Problem{
					Reason: "nothing says of what kind the type is: write its list from a file, or describe it from a kind",
				}
			}
			model, err := tx.WritingDesk(t.Handbook.From.Type, w.Account)
			if errors.Is(err, store.ErrNotFound) || err == nil && len(model.Lists) == 0 {
				return form.Problem{Reason: "the type that it was described from has no list in force"}
			}
			if err != nil {
				return err
			}
			packs, err := tx.Packs(s.Today(w))
			if err != nil {
				return err
			}
			list, left := s.Catalog.StartingList(model.Lists[0], t, packs)
			out.Body.ID, out.Body.Left = list.ID, append(out.Body.Left, left...)
			out.Body.Version, err = tx.AddDraft(library.KindList, list.ID, t.ID, list.Title,
				func(version int) ([]byte, error) {
					list.Version = version
					return json.Marshal(list)
				}, w.Account, s.Now())
			return err
		})
	return out, err
}

// notHeld says of so many numbers that nobody held them to their page.
func notHeld(n int) string {
	if n == 1 {
		return "1 number was not held to its page"
	}
	return fmt.Sprintf("%d numbers were not held to their page", n)
}
