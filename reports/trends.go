package reports

import (
	"fmt"

	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/compare"
	"jetprimer/core/quantity"
	"jetprimer/store"
)

// AircraftTrends is an aircraft with what is read on it again and again.
type AircraftTrends struct {
	store.Aircraft
	TypeName string           `json:"typeName"`
	Findings []FindingView    `json:"findings" doc:"the newest first, closed ones among them"`
	Runs     []store.Lesson   `json:"runs" doc:"the newest maintenance runs"`
	Series   []compare.Series `json:"series" doc:"those to look at first"`
	// Alike are the other aircraft of the type, with their newest numbers by the id
	// of the series.
	Alike   []Alike `json:"alike"`
	Caution string  `json:"caution"`
}

// FindingView is a finding with what stands behind it.
type FindingView struct {
	store.Finding
	// Tries are those of its check in the lesson, and Pictures the SHA-256 of each that
	// the school has; both only of a finding that stands open.
	Tries    []Try    `json:"tries"`
	Pictures []string `json:"pictures"`
}

// Try is a try of a measured check.
type Try struct {
	compare.Tried
	Attempt  int  `json:"attempt"`
	Recorded bool `json:"recorded" doc:"whether the engine recorder measured it"`
}

// Alike is another aircraft of the same type.
type Alike struct {
	Registration string             `json:"registration"`
	Newest       map[string]float64 `json:"newest" doc:"the weighted average of each number now"`
}

// TrendNotice is a number of an aircraft that goes to its limit.
type TrendNotice struct {
	Registration string      `json:"registration"`
	Series       string      `json:"series"`
	Label        string      `json:"label"`
	State        check.State `json:"state"`
	Words        string      `json:"words"`
}

// runsShown is how many maintenance runs an aircraft's page names.
const runsShown = 5

const trendCaution = "A trend is a reason to look, not a verdict. The handbook and a licensed mechanic decide."

// findingsOf are the findings about an aircraft, the open ones with what stands behind
// them.
func (r *Reports) findingsOf(tx *store.Tx, units quantity.Units, registration string,
	typ aircraft.Type) ([]FindingView, error) {
	findings, err := tx.Findings(r.day(tx))
	out, open := []FindingView{}, []string{}
	for _, f := range findings {
		if f.Registration == registration {
			out = append(out, FindingView{f, []Try{}, []string{}})
			if f.Condition.Open() {
				open = append(open, f.Event)
			}
		}
	}
	if err != nil || len(open) == 0 {
		return out, err
	}
	tries, err := tx.TriesBehind(open)
	if err != nil {
		return nil, err
	}
	pictures, err := tx.PicturesOf(open)
	for i := range out {
		f := &out[i]
		for _, t := range tries[f.Event] {
			one := Try{compare.TriedOf(t.Check, typ), t.Attempt, t.Recorded}
			one.Words = units.Say(one.Words)
			f.Tries = append(f.Tries, one)
		}
		f.Pictures = append(f.Pictures, pictures[f.Event]...)
	}
	return out, err
}

// seriesOf are the series of an aircraft: nothing of them changes until it is flown or
// returned to service.
func (r *Reports) seriesOf(tx *store.Tx, registration string, stamps map[string]string,
	typ aircraft.Type) ([]compare.Series, error) {
	return r.series.of(tx.School+registration, fmt.Sprint(stamps[registration], " ", typ.ID, typ.Version, typ.Limits),
		func() ([]compare.Series, error) {
			log, err := tx.AircraftLog(registration)
			return compare.Repeated(log, typ), err
		})
}

// Aircraft is an aircraft with what is read on it again and again, said in the units of
// who reads it.
func (r *Reports) Aircraft(tx *store.Tx, registration string, units quantity.Units) (AircraftTrends, error) {
	v := AircraftTrends{Findings: []FindingView{}, Alike: []Alike{}, Caution: trendCaution}
	var err error
	if v.Aircraft, err = tx.OneAircraft(registration, r.day(tx)); err != nil {
		return v, err
	}
	types, err := r.Types(tx)
	if err != nil {
		return v, err
	}
	of := types.Named(v.Type).With(v.Equipment)
	v.TypeName = of.Name
	stamps, err := tx.LogStamps()
	if err != nil {
		return v, err
	}
	if v.Series, err = r.seriesOf(tx, v.Registration, stamps, of); err != nil {
		return v, err
	}
	if v.Findings, err = r.findingsOf(tx, units, v.Registration, of); err != nil {
		return v, err
	}
	if v.Runs, err = tx.Runs(v.Registration, runsShown); err != nil {
		return v, err
	}
	fleet, err := tx.Aircraft(r.day(tx))
	if err != nil {
		return v, err
	}
	for _, a := range fleet {
		if a.Type != v.Type || a.Registration == v.Registration {
			continue
		}
		series, err := r.seriesOf(tx, a.Registration, stamps, types.Named(a.Type).With(a.Equipment))
		if err != nil {
			return v, err
		}
		other := Alike{a.Registration, map[string]float64{}}
		for _, one := range series {
			other.Newest[one.ID] = one.Points[len(one.Points)-1].Average
		}
		v.Alike = append(v.Alike, other)
	}
	return v, nil
}

// Trends are the numbers of the school's aircraft that go to their limits.
func (r *Reports) Trends(tx *store.Tx) ([]TrendNotice, error) {
	out := []TrendNotice{}
	types, err := r.Types(tx)
	if err != nil {
		return nil, err
	}
	fleet, err := tx.Aircraft(r.day(tx))
	if err != nil {
		return nil, err
	}
	stamps, err := tx.LogStamps()
	if err != nil {
		return nil, err
	}
	for _, a := range fleet {
		series, err := r.seriesOf(tx, a.Registration, stamps, types.Named(a.Type))
		if err != nil {
			return nil, err
		}
		told := map[string]bool{} // a number that is read at two places is told once
		for _, one := range series {
			label := one.Title + ", " + one.Label
			if one.State != check.Within && !told[label] {
				out = append(out, TrendNotice{a.Registration, one.ID, label, one.State, one.Words})
				told[label] = true
			}
		}
	}
	return out, nil
}
