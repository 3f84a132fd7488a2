package fleet

import (
	"context"
	"net/http"
	"strings"

	"jetprimer/core/access"
	"jetprimer/core/school"
	"jetprimer/reports"
	"jetprimer/server/api"
	"jetprimer/store"
)

// FleetView is every aircraft that the school has or had.
type FleetView struct {
	Day      string          `json:"day"`
	Aircraft []FleetAircraft `json:"aircraft"`
	Types    []TypeToFly     `json:"types" doc:"the types in force"`
	Bases    []reports.Named `json:"bases"`
}

// FleetAircraft is one of them, as it is today.
type FleetAircraft struct {
	store.Aircraft
	TypeName    string `json:"typeName"`
	TypeVersion int    `json:"typeVersion" doc:"the version in force; 0 for none"`
	Retired     bool   `json:"retired"`
	// Changes are those of its equipment, the newest first; a day ahead is planned.
	Changes []store.EquipmentChange `json:"changes"`
}

type airframeInput struct {
	Body struct{ school.Airframe }
}

type setAirframeInput struct {
	Registration string `path:"registration" maxLength:"20"`
	Body         struct {
		school.Airframe
		From      string `json:"from" doc:"the day from which it has this equipment"`
		RetiredOn string `json:"retiredOn,omitempty" doc:"the first day on which it does not fly for the school; empty while it does"`
	}
}

func (s Handlers) fleetRoutes() {
	api.Handle(s.API, api.Route{
		ID: "aircraft", For: access.AircraftReaders, Method: http.MethodGet, Path: "/aircraft",
		Summary: "Every aircraft that the school has or had",
	}, s.fleet)
	api.Handle(s.API, api.Route{
		ID: "add-aircraft", For: access.AircraftKeepers, Method: http.MethodPost, Path: "/aircraft",
		Summary: "Add an aircraft", MaxBodyBytes: 16 << 10,
	}, s.addAircraft)
	api.Handle(s.API, api.Route{
		ID: "set-aircraft", For: access.AircraftKeepers, Method: http.MethodPut, Path: "/aircraft/{registration}",
		Summary: "Change what the school writes down of an aircraft, or retire it", MaxBodyBytes: 16 << 10,
	}, s.setAircraft)
}

func (s Handlers) fleet(ctx context.Context, w api.Person, _ *struct{}) (*struct{ Body FleetView }, error) {
	out := &struct{ Body FleetView }{
		FleetView{Day: s.Today(w), Aircraft: []FleetAircraft{}, Types: []TypeToFly{}, Bases: []reports.Named{}},
	}
	return out, s.In(ctx, w, func(tx *store.Tx) error {
		types, err := tx.Types(out.Body.Day)
		if err != nil {
			return err
		}
		of := reports.ByID(types)
		for _, t := range types {
			out.Body.Types = append(out.Body.Types, ToFly(t))
		}
		bases, err := tx.Bases()
		if err != nil {
			return err
		}
		for _, b := range bases {
			out.Body.Bases = append(out.Body.Bases, reports.Named{ID: b.ID, Name: b.Name})
		}
		changes, err := tx.EquipmentChanges()
		if err != nil {
			return err
		}
		fleet, err := tx.Fleet(out.Body.Day)
		for _, a := range fleet {
			one := FleetAircraft{
				a, of.Named(a.Type).Name, of[a.Type].Version, a.Retired(out.Body.Day), []store.EquipmentChange{},
			}
			for _, c := range changes {
				if c.Registration == a.Registration {
					one.Changes = append(one.Changes, c)
				}
			}
			out.Body.Aircraft = append(out.Body.Aircraft, one)
		}
		return err
	})
}

func (s Handlers) addAircraft(ctx context.Context, w api.Person, in *airframeInput) (*struct{}, error) {
	a := in.Body.Tidy()
	if err := a.Check(); err != nil {
		return nil, err
	}
	err := s.In(ctx, w, func(tx *store.Tx) error { return tx.AddAirframe(a, s.Today(w)) })
	if err == nil {
		s.Audit(ctx, w, "aircraft added", a.Registration)
	}
	return nil, err
}

func (s Handlers) setAircraft(ctx context.Context, w api.Person, in *setAirframeInput) (*struct{}, error) {
	a := in.Body.Tidy()
	a.Registration = in.Registration
	day := s.Today(w)
	for _, err := range []error{
		a.Check(), school.CheckDay("from", in.Body.From), school.CheckDay("retiredOn", in.Body.RetiredOn),
	} {
		if err != nil {
			return nil, err
		}
	}
	from := in.Body.From
	if from == "" {
		from = day
	}
	err := s.In(ctx, w, func(tx *store.Tx) error {
		return tx.SetAirframe(a, from, in.Body.RetiredOn, w.Account, day, s.Now())
	})
	if err == nil {
		what := "aircraft changed"
		if len(a.Equipment) > 0 {
			what += ", with " + strings.Join(a.Equipment, ", ")
		}
		if in.Body.RetiredOn != "" {
			what += ", retired on " + in.Body.RetiredOn
		}
		s.Audit(ctx, w, what, a.Registration)
	}
	return nil, err
}
