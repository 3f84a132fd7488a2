package documents

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"jetprimer/core/access"
	"jetprimer/core/checklist"
	"jetprimer/core/form"
	"jetprimer/core/library"
	"jetprimer/core/policy"
	"jetprimer/core/progress"
	"jetprimer/exchange"
	"jetprimer/server/api"
	"jetprimer/server/lessons"
	"jetprimer/store"
)

// Library is every version of every type, list, layer and memory aid.
type Library struct {
	Day      string            `json:"day"`
	Versions []library.Version `json:"versions"`
	Types    []TypeName        `json:"types"`
}

// TypeName is an aircraft type in a list of types.
type TypeName struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Class string `json:"class"`
}

// DocumentView is one version with its document and the mistakes in it.
type DocumentView struct {
	library.Version
	Document any            `json:"document" doc:"a type, list, layer or memory aid"`
	Problems []form.Problem `json:"problems"`
}

// DeskView is what lists of a type are edited with and lessons prepared from.
type DeskView struct {
	store.Desk
	Surroundings checklist.Surroundings `json:"surroundings"`
	Exercises    []checklist.Exercise   `json:"exercises"`
	Variables    []checklist.Variable   `json:"variables" doc:"what conditions may ask for"`
	Ranks        []string               `json:"ranks" doc:"of layers, lowest first"`
	Elements     map[string]string      `json:"elements" doc:"the words of each standard element, by id"`
	When         map[string]string      `json:"when" doc:"the conditions of the lists' items in words, by how they are written"`
	Students     []string               `json:"students" doc:"who trains on the type; for those who may teach it"`
	Kit          lessons.Kit            `json:"kit" doc:"what a lesson on the type is worked with"`
	Policy       policy.ForDay          `json:"policy" doc:"what the school decides for a day on the type"`
	Paper        bool                   `json:"paper" doc:"whether you may write down a lesson that was kept on paper"`
}

// TrainedView says of each person who flies the type how far they know a
// document, and who has to be told.
type TrainedView struct {
	Version int            `json:"version" doc:"the version everybody should know: in force today, or next"`
	From    string         `json:"from" doc:"the day it comes into force"`
	People  []TrainedState `json:"people"`
}

// TrainedState is one person's state.
type TrainedState struct {
	store.Trained
	MustBeTold bool `json:"mustBeTold" doc:"neither flown nor told of that version"`
}

// VersionInput names one version. It is exported so that routes may embed it.
type VersionInput struct {
	Kind    string `path:"kind" enum:"type,list,layer,aid,policy,pack"`
	ID      string `path:"id" maxLength:"64"`
	Version int    `path:"version" minimum:"1" maximum:"1000000"`
}

type draftInput struct {
	Kind string `path:"kind" enum:"type,list,layer,aid,policy,pack"`
	Body struct {
		Document json.RawMessage `json:"document" doc:"the new version; its number is given by the server"`
	}
}

type saveInput struct {
	VersionInput
	Body struct {
		Revision int             `json:"revision" minimum:"1" doc:"the revision that was opened"`
		Document json.RawMessage `json:"document"`
	}
}

type revisionInput struct {
	VersionInput
	Body struct {
		Revision int `json:"revision" minimum:"1" doc:"the revision that was seen"`
		// Compared is asked for types only.
		Compared []string `json:"compared,omitempty" maxItems:"2000" doc:"of a type: the paths of the numbers that were held to their pages"`
	}
}

type fromInput struct {
	VersionInput
	Body struct {
		Revision int    `json:"revision" minimum:"1" doc:"the revision that was seen"`
		From     string `json:"from" format:"date" doc:"the first day"`
	}
}

type importInput struct {
	Kind    string `path:"kind" enum:"type,list,layer,aid,policy,pack"`
	Format  string `query:"format" maxLength:"20" doc:"one of x-formats; told from the file's name when left out"`
	Name    string `query:"name" maxLength:"200" doc:"the file's name"`
	RawBody []byte
}

// Imported is what a file holds, not yet kept, and every mistake in it.
type Imported struct {
	Document any            `json:"document,omitempty" doc:"missing when nothing could be read"`
	Problems []form.Problem `json:"problems"`
}

type exportInput struct {
	VersionInput
	Format string `query:"format" maxLength:"20" required:"true" doc:"one of x-formats"`
}

type versionOutput struct{ Body library.Version }

func (s Handlers) libraryRoutes() {
	const one = "/library/{kind}/{id}/{version}"
	api.Handle(s.API, api.Route{
		ID: "library", For: access.Everyone, Method: http.MethodGet, Path: "/library",
		Summary: "Every version of types, lists, layers and memory aids", Offline: true,
	}, s.library)
	api.Handle(s.API, api.Route{
		ID: "desk", For: access.Everyone, Method: http.MethodGet, Path: "/desk/{type}",
		Summary: "What serves an aircraft type on a day", Offline: true,
	}, s.desk)
	api.Handle(s.API, api.Route{
		ID: "document", For: access.Everyone, Method: http.MethodGet, Path: one,
		Summary: "One version with its document", Offline: true,
	}, s.document)
	api.Handle(s.API, api.Route{
		ID: "add-draft", For: access.Teaching, Method: http.MethodPost, Path: "/library/{kind}",
		Summary: "Begin a new version as a draft", MaxBodyBytes: 4 << 20,
	}, s.addDraft)
	api.Handle(s.API, api.Route{
		ID: "save-draft", For: access.Teaching, Method: http.MethodPut, Path: one, Summary: "Save a draft",
		MaxBodyBytes: 4 << 20,
	}, s.saveDraft)
	api.Handle(s.API, api.Route{
		ID: "drop-draft", For: access.Teaching, Method: http.MethodDelete, Path: one, Summary: "Delete a draft",
	},
		func(ctx context.Context, w api.Person, in *VersionInput) (*struct{}, error) {
			return nil, s.withVersion(ctx, w, *in,
				func(tx *store.Tx, v library.Version) error { return tx.DropDraft(v, s.Now()) })
		})
	api.Handle(s.API, api.Route{
		ID: "review-version", For: access.Teaching, Method: http.MethodPost, Path: one + "/review",
		Summary: "Say that a draft was read and found sound",
	},
		func(ctx context.Context, w api.Person, in *revisionInput) (*versionOutput, error) {
			return s.step(ctx, w, in.VersionInput, in.Body.Revision, func(tx *store.Tx, v library.Version) error {
				if v.Kind == library.KindType {
					return s.confirmType(tx, w, v, in.Body.Compared)
				}
				mistakes, _, err := s.problems(tx, v)
				if err == nil && len(mistakes) > 0 {
					err = form.Problem{
						Reason: fmt.Sprintf("the draft has %s, the first: %s", api.Plural(len(mistakes), "mistake"),
							mistakes[0].Error()),
					}
				}
				if err != nil {
					return err
				}
				return tx.Review(v, w.Account, s.Now())
			})
		})
	api.Handle(s.API, api.Route{
		ID: "reopen-version", For: access.Teaching, Method: http.MethodPost, Path: one + "/reopen",
		Summary: "Take a reviewed version back to draft",
	},
		func(ctx context.Context, w api.Person, in *revisionInput) (*versionOutput, error) {
			return s.step(ctx, w, in.VersionInput, in.Body.Revision,
				func(tx *store.Tx, v library.Version) error { return tx.Reopen(v, s.Now()) })
		})
	api.Handle(s.API, api.Route{
		ID: "approve-version", For: access.Roles{access.Chief}, Method: http.MethodPost, Path: one + "/approve",
		Summary: "Bring a reviewed version into force from a day",
	},
		func(ctx context.Context, w api.Person, in *fromInput) (*versionOutput, error) {
			return s.step(ctx, w, in.VersionInput, in.Body.Revision, func(tx *store.Tx, v library.Version) error {
				if err := typeServes(tx, v, in.Body.From); err != nil {
					return err
				}
				return tx.Approve(v, in.Body.From, w.Account, s.Now())
			})
		})
	api.Handle(s.API, api.Route{
		ID: "withdraw-version", For: access.Roles{access.Chief}, Method: http.MethodPost, Path: one + "/withdraw",
		Summary: "Take a version out of force from a day",
	},
		func(ctx context.Context, w api.Person, in *fromInput) (*versionOutput, error) {
			return s.step(ctx, w, in.VersionInput, in.Body.Revision,
				func(tx *store.Tx, v library.Version) error { return tx.Withdraw(v, in.Body.From, w.Account, s.Now()) })
		})
	api.Handle(s.API, api.Route{
		ID: "trained", For: access.Teaching, Method: http.MethodGet, Path: "/trained/{kind}/{id}",
		Summary: "Who knows a list or layer, and who has to be told",
	}, s.trained)
	api.Handle(s.API, api.Route{
		ID: "tell", For: access.Teaching, Method: http.MethodPost, Path: one + "/told",
		Summary: "Note that a person was told of a version",
	},
		func(ctx context.Context, w api.Person, in *struct {
			VersionInput
			Body struct {
				Account string `json:"account" format:"uuid"`
			}
		}) (*struct{}, error) {
			return nil, s.withVersion(ctx, w, in.VersionInput, func(tx *store.Tx, v library.Version) error {
				return tx.Tell(v, in.Body.Account, w.Account, s.Now())
			})
		})
	api.Handle(s.API, api.Route{
		ID: "import-document", For: access.Teaching, Method: http.MethodPost, Path: "/import/{kind}",
		Summary: "Read a file and report every mistake; nothing is kept", MaxBodyBytes: 8 << 20,
	}, s.importDocument)
	api.Handle(s.API, api.Route{
		ID: "export-document", For: access.Everyone, Method: http.MethodGet, Path: one + "/export",
		Summary: "A version as a file",
	}, s.exportDocument)
	api.Handle(s.API, api.Route{
		ID: "lesson-card", For: access.RecordReaders, Method: http.MethodGet, Path: "/lessons/{id}/card.pdf",
		Summary: "The list as flown in a lesson, as a knee card",
	}, s.lessonCard)
}

// writes reports whether the person sees drafts.
func writes(w api.Person) bool { return w.Roles.Teach() }

func (s Handlers) library(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body Library }, error) {
	out := &struct{ Body Library }{Library{Day: s.Today(w), Versions: []library.Version{}, Types: []TypeName{}}}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		all, err := tx.Versions("")
		if err != nil {
			return err
		}
		serving, err := tx.Types(out.Body.Day)
		if err != nil {
			return err
		}
		for _, t := range serving {
			out.Body.Types = append(out.Body.Types, TypeName{t.ID, t.Name, t.Class})
		}
		for _, v := range library.Marked(all, out.Body.Day) {
			if !v.Open() && !writes(w) {
				continue
			}
			out.Body.Versions = append(out.Body.Versions, v)
			if v.AircraftType != "" &&
				!slices.ContainsFunc(out.Body.Types, func(t TypeName) bool { return t.ID == v.AircraftType }) {
				out.Body.Types = append(out.Body.Types, TypeName{v.AircraftType, v.Title, ""}) // only drafts of it
			}
		}
		return nil
	})
	return out, err
}

func (s Handlers) desk(ctx context.Context, w api.Person, in *struct {
	Type       string `path:"type" maxLength:"64"`
	On         string `query:"on" format:"date" doc:"the day; today when left out"`
	Instructor string `query:"instructor" maxLength:"64" doc:"whose technique is in it; yours when left out"`
}) (*struct{ Body DeskView }, error) {
	out := &struct{ Body DeskView }{
		DeskView{
			Exercises: checklist.Exercises, Variables: checklist.Variables, Ranks: checklist.Ranks,
			Elements: map[string]string{}, When: map[string]string{}, Students: []string{},
		},
	}
	if in.On == "" {
		in.On = s.Today(w)
	}
	if in.Instructor == "" {
		in.Instructor = w.Account
	}
	err := s.In(ctx, w, func(tx *store.Tx) (err error) {
		if in.On == store.FarDay && writes(w) {
			out.Body.Desk, err = tx.WritingDesk(in.Type, in.Instructor)
		} else {
			out.Body.Desk, err = tx.Desk(in.Type, in.On, in.Instructor)
		}
		if err != nil {
			return err
		}
		if w.Roles.Teach() {
			students, err := tx.Students()
			if err != nil {
				return err
			}
			for _, st := range students {
				if progress.TrainsFor(st.Class, st.EngineKind, st.StartType, out.Body.Type) {
					out.Body.Students = append(out.Body.Students, st.ID)
				}
			}
		}
		packs, err := tx.Packs(in.On)
		if err != nil {
			return err
		}
		decided, err := tx.Policy(in.On)
		if err != nil {
			return err
		}
		out.Body.Policy = decided.ForDay(out.Body.Type.ID, w.Units())
		today, err := tx.Policy(s.Today(w))
		if err != nil {
			return err
		}
		out.Body.Paper = today.MayWriteDown(w.Roles)
		if out.Body.Kit, err = lessons.New(s.API).Kit(tx, w, out.Body.Type, out.Body.Aids, packs); err != nil {
			return err
		}
		out.Body.Surroundings = s.Catalog.Surroundings(out.Body.Type, packs)
		for _, list := range out.Body.Lists {
			for _, place := range list.Places() {
				if place.Item.When != "" {
					out.Body.When[place.Item.When] = w.Units().Say(checklist.WhenWords(place.Item.When))
				}
			}
		}
		for _, p := range packs {
			for _, task := range p.Tasks {
				for _, e := range task.Elements {
					out.Body.Elements[e.ID] = e.Text
				}
			}
		}
		return nil
	})
	return out, err
}

// withVersion finds a version and runs fn on it; drafts are not there for
// people who do not write.
func (s Handlers) withVersion(ctx context.Context, w api.Person, in VersionInput,
	fn func(tx *store.Tx, v library.Version) error) error {
	return s.In(ctx, w, func(tx *store.Tx) error {
		v, err := tx.VersionOf(in.Kind, in.ID, in.Version)
		if err != nil {
			return err
		}
		if !v.Open() && !writes(w) {
			return store.ErrNotFound
		}
		return fn(tx, v)
	})
}

// step changes the state of a version that stands at the revision seen.
func (s Handlers) step(ctx context.Context, w api.Person, in VersionInput, revision int,
	fn func(tx *store.Tx, v library.Version) error) (*versionOutput, error) {
	out := &versionOutput{}
	err := s.withVersion(ctx, w, in, func(tx *store.Tx, v library.Version) error {
		if v.Revision != revision {
			return store.ErrConflict
		}
		if err := fn(tx, v); err != nil {
			return err
		}
		after, err := tx.VersionOf(in.Kind, in.ID, in.Version)
		out.Body = after
		return err
	})
	if err == nil {
		if out.Body.Status == library.InForce {
			s.Counters.Seals.Inc()
		}
		if in.Kind == library.KindPolicy || in.Kind == library.KindPack {
			s.FollowPolicy(ctx, w.School)
		}
		s.Audit(ctx, w, "version "+out.Body.Status, fmt.Sprintf("%s %s version %d", in.Kind, in.ID, in.Version))
	}
	return out, err
}

func (s Handlers) document(ctx context.Context, w api.Person, in *VersionInput) (*struct{ Body DocumentView }, error) {
	out := &struct{ Body DocumentView }{}
	err := s.withVersion(ctx, w, *in, func(tx *store.Tx, v library.Version) (err error) {
		out.Body.Version = v
		out.Body.Problems, out.Body.Document, err = s.problems(tx, v)
		return err
	})
	return out, err
}

// problems are what is wrong in a version, whatever its state, beside its
// document.
func (s Handlers) problems(tx *store.Tx, v library.Version) ([]form.Problem, any, error) {
	body, err := tx.Body(v.Kind, v.ID, v.Version)
	if err != nil {
		return nil, nil, err
	}
	doc, mistakes := readDocument(v.Kind, body)
	if doc == nil {
		doc = json.RawMessage(body)
	}
	around, err := s.around(tx, v.Kind, doc)
	return append(mistakes, around...), doc, err
}

// readDocument reads a document of a kind from JSON; nil when it cannot be read.
func readDocument(kind string, data []byte) (any, []form.Problem) {
	doc, mistakes, _ := exchange.ReadFile(kind, "json", "", data) // the kinds of routes are known
	if doc == nil {
		return nil, mistakes
	}
	return doc, mistakes
}

// around are the mistakes in how a document fits the school: its type, checks,
// gauges, places, standards.
func (s Handlers) around(tx *store.Tx, kind string, doc any) ([]form.Problem, error) {
	var own, all []form.Problem
	of := func(typ string) (store.Desk, checklist.Surroundings, error) {
		desk, err := tx.WritingDesk(typ, "")
		if err != nil {
			return desk, checklist.Surroundings{}, err
		}
		packs, err := tx.Packs(store.FarDay)
		return desk, s.Catalog.Surroundings(desk.Type, packs), err
	}
	unknown := []form.Problem{}
	switch d := doc.(type) {
	case checklist.List:
		_, around, err := of(d.AircraftType)
		if err != nil {
			return unknownType(unknown, d.AircraftType, err)
		}
		own, all = d.Problems(), around.ListProblems(d)
	case checklist.Layer:
		_, around, err := of(d.AircraftType)
		if err != nil {
			return unknownType(unknown, d.AircraftType, err)
		}
		own, all = d.Problems(), around.LayerProblems(d)
	case checklist.Aid:
		desk, around, err := of(d.AircraftType)
		if err != nil || len(desk.Lists) == 0 {
			return unknownType(unknown, d.AircraftType, err)
		}
		own, all = d.Problems(), around.AidProblems(d, desk.Lists[0])
	}
	out := []form.Problem{}
	for _, f := range all {
		if !slices.Contains(own, f) {
			out = append(out, form.Problem{Field: f.Field, Reason: f.Reason})
		}
	}
	return out, nil
}

func unknownType(out []form.Problem, typ string, err error) ([]form.Problem, error) {
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return out, err
	}
	return append(out, form.Problem{
		Field: "$.aircraftType", Reason: fmt.Sprintf("%q is no aircraft type with a list in force", typ),
	}), nil
}

// heading is what a document says of itself.
type heading struct {
	ID           string `json:"id"`
	Name         string `json:"name"`
	Title        string `json:"title"`
	AircraftType string `json:"aircraftType"`
}

// headed reads the heading of a document and gives its body with the version
// it is kept as. A draft may have mistakes, but must say what it is.
func headed(kind string, document json.RawMessage) (heading, func(version int) ([]byte, error), error) {
	var h heading
	if form.Depth(document) > form.MaxDepth {
		return h, nil, form.Problem{Field: "document", Reason: fmt.Sprintf("nests deeper than %d levels",
			form.MaxDepth)}
	}
	if at, reason := form.Unholdable(document); reason != "" {
		return h, nil, form.Problem{
			Field: strings.TrimSuffix("document."+form.FieldAt(document, at), "."), Reason: reason,
		}
	}
	var fields map[string]json.RawMessage
	err := json.Unmarshal(document, &h)
	if err == nil {
		err = json.Unmarshal(document, &fields)
	}
	if err != nil {
		return h, nil, form.Problem{Field: "document", Reason: "cannot be read: " + err.Error()}
	}
	least := 1
	switch kind {
	case library.KindType:
		h.Title, h.AircraftType = h.Name, h.ID
	case library.KindPolicy, library.KindPack:
		h.AircraftType, least = "", 0
	}
	for _, f := range []struct {
		field, value string
		least, most  int
	}{{"id", h.ID, 1, 64}, {"title", h.Title, 1, 200}, {"aircraftType", h.AircraftType, least, 64}} {
		if len(f.value) < f.least || len(f.value) > f.most {
			return h, nil, form.Problem{
				Field: "document." + f.field, Reason: fmt.Sprintf("must have %d to %d characters", f.least, f.most),
			}
		}
	}
	if strings.ContainsAny(h.ID, "/?#%\\ \"") {
		return h, nil, form.Problem{Field: "document.id", Reason: "may have no space and none of / \\ ? # % \""}
	}
	return h, func(version int) ([]byte, error) {
		fields["version"] = json.RawMessage(fmt.Sprint(version))
		data, err := json.Marshal(fields)
		if err != nil {
			return nil, err
		}
		// Where it can be read, the document is kept in the order of its schema.
		if doc, _ := readDocument(kind, data); doc != nil {
			return json.Marshal(doc)
		}
		return data, nil
	}, nil
}

func (s Handlers) addDraft(ctx context.Context, w api.Person, in *draftInput) (*struct{ Body DocumentView }, error) {
	h, body, err := headed(in.Kind, in.Body.Document)
	if err != nil {
		return nil, err
	}
	version := 0
	err = s.In(ctx, w, func(tx *store.Tx) (err error) {
		version, err = tx.AddDraft(in.Kind, h.ID, h.AircraftType, h.Title, body, w.Account, s.Now())
		return err
	})
	if err != nil {
		return nil, err
	}
	// What is wrong in it is found once nobody waits for the school's lock.
	return s.document(ctx, w, &VersionInput{in.Kind, h.ID, version})
}

func (s Handlers) saveDraft(ctx context.Context, w api.Person, in *saveInput) (*struct{ Body DocumentView }, error) {
	h, body, err := headed(in.Kind, in.Body.Document)
	if err != nil {
		return nil, err
	}
	err = s.withVersion(ctx, w, in.VersionInput, func(tx *store.Tx, v library.Version) error {
		switch {
		case h.ID != v.ID:
			return form.Problem{Field: "document.id", Reason: "may not become another; begin a new document instead"}
		case h.AircraftType != v.AircraftType:
			return form.Problem{Field: "document.aircraftType", Reason: "may not become another"}
		case v.Revision != in.Body.Revision:
			return store.ErrConflict
		}
		data, err := body(v.Version)
		if err != nil {
			return err
		}
		return tx.SaveDraft(v, h.Title, data, w.Account, s.Now())
	})
	if err != nil {
		return nil, err
	}
	return s.document(ctx, w, &in.VersionInput)
}

func (s Handlers) trained(ctx context.Context, w api.Person, in *struct {
	Kind string `path:"kind" enum:"list,layer"`
	ID   string `path:"id" maxLength:"64"`
}) (*struct{ Body TrainedView }, error) {
	out := &struct{ Body TrainedView }{TrainedView{People: []TrainedState{}}}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		all, err := tx.Versions("")
		if err != nil {
			return err
		}
		last, known := library.Latest(all, in.Kind, in.ID)
		if !known {
			return store.ErrNotFound
		}
		out.Body.Version, out.Body.From = last.Version, last.InForceFrom
		desk, err := tx.Desk(last.AircraftType, s.Today(w), "")
		if err != nil {
			return err
		}
		people, err := tx.Trained(in.Kind, in.ID, desk.Type)
		for _, p := range people {
			out.Body.People = append(out.Body.People, TrainedState{p, last.MustBeTold(p.Flown, p.Told)})
		}
		return err
	})
	return out, err
}

func (s Handlers) importDocument(ctx context.Context, w api.Person, in *importInput) (*struct{ Body Imported }, error) {
	out := &struct{ Body Imported }{Imported{Problems: []form.Problem{}}}
	name := in.Name
	if name == "" {
		name = "file"
	}
	if in.Format == "" {
		var err error
		if in.Format, err = exchange.FormatOf(name); err != nil {
			return nil, form.Bad("name", "%s", err)
		}
	}
	doc, mistakes, err := exchange.ReadFile(in.Kind, in.Format, name, in.RawBody)
	if err != nil {
		return nil, form.Problem{Field: "format", Reason: strings.TrimPrefix(err.Error(), "format ")}
	}
	out.Body.Problems = append(out.Body.Problems, mistakes...)
	if doc == nil {
		return out, nil
	}
	out.Body.Document = doc
	if list, isList := doc.(checklist.List); isList && list.ID == "" {
		return out, nil // what a list lacks yet is asked for on the screen
	}
	err = s.In(ctx, w, func(tx *store.Tx) error {
		more, err := s.around(tx, in.Kind, doc)
		for _, m := range more {
			m.File = name
			out.Body.Problems = append(out.Body.Problems, m)
		}
		return err
	})
	return out, err
}

func (s Handlers) exportDocument(ctx context.Context, w api.Person, in *exportInput) (*api.File, error) {
	out := &api.File{}
	err := s.withVersion(ctx, w, in.VersionInput, func(tx *store.Tx, v library.Version) error {
		_, doc, err := s.problems(tx, v)
		if err != nil {
			return err
		}
		format, err := exchange.FormatNamed(in.Format)
		if err != nil {
			return err
		}
		out.ContentType = format.Media
		out.Disposition = fmt.Sprintf(`attachment; filename="%s-v%d.%s"`, v.ID, v.Version, format.Ending)
		desk, err := tx.WritingDesk(v.AircraftType, "")
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		out.Body, err = exchange.WriteFile(doc, in.Format, exchange.Card{
			Type: desk.Type, Units: w.Units(), Status: status(v), Printed: s.Now().UTC(),
		})
		if err != nil {
			return form.Problem{Field: "format", Reason: strings.TrimPrefix(err.Error(), "format ")}
		}
		return err
	})
	return out, err
}

// status says which version this is, as a printed card has it.
func status(v library.Version) string {
	switch {
	case v.Status == library.Withdrawn:
		return fmt.Sprintf("Version %d, withdrawn from %s", v.Version, v.WithdrawnFrom)
	case v.Status != library.InForce:
		return fmt.Sprintf("Version %d, %s: NOT IN FORCE", v.Version, v.Status)
	case v.InForceFrom == "":
		return fmt.Sprintf("Version %d, in force", v.Version)
	}
	return fmt.Sprintf("Version %d, in force from %s", v.Version, v.InForceFrom)
}

func (s Handlers) lessonCard(ctx context.Context, w api.Person, in *api.ID) (*api.File, error) {
	out := &api.File{ContentType: "application/pdf", Disposition: `attachment; filename="as-flown.pdf"`}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		l, err := tx.Lesson(in.ID)
		if err != nil {
			return err
		}
		if err := s.MayRead(tx, w, l.StudentID); err != nil {
			return err
		}
		_, book, _, err := tx.State(l)
		if err != nil {
			return err
		}
		v, err := tx.VersionOf(library.KindList, book.List.ID, book.List.Version)
		if err != nil {
			return err
		}
		out.Body, err = exchange.WriteCard(exchange.Card{List: book.List, Type: book.Type, Units: w.Units(),
			Status: status(v), Printed: s.Now().UTC(),
			For: fmt.Sprintf("%s, %s, %s", l.Registration, l.Student, tx.Day(l.OpenedAt))})
		return err
	})
	return out, err
}
