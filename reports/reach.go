package reports

import (
	"fmt"
	"slices"
	"strings"
	"sync"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/library"
	"jetprimer/core/progress"
	"jetprimer/store"
)

// reach remembers which elements each aircraft can show. Versions in force never
// change, so that what is known of one stays true.
type reach struct {
	sync.Mutex
	known map[string]shows
}

// shows is what one aircraft can show, and who trains on it.
type shows struct {
	of       aircraft.Type // without its data
	elements map[string]bool
}

// maxReach bounds what is remembered.
const maxReach = 2000

// reachOn tells of each student what the school's aircraft that they train on
// can show on a day.
func (r *Reports) reachOn(tx *store.Tx, serving []library.Version,
	day string) (func(store.Student) map[string]bool, error) {
	fleet, err := tx.Aircraft(day)
	if err != nil {
		return nil, err
	}
	var all []shows
	for _, a := range fleet {
		one, err := r.shownBy(tx, serving, a)
		if err != nil {
			return nil, err
		}
		all = append(all, one)
	}
	kinds := map[string]map[string]bool{}
	return func(st store.Student) map[string]bool {
		key := st.Class + " " + st.EngineKind + " " + st.StartType
		if known, ok := kinds[key]; ok {
			return known
		}
		out := map[string]bool{}
		for _, one := range all {
			if progress.TrainsFor(st.Class, st.EngineKind, st.StartType, one.of) {
				for e := range one.elements {
					out[e] = true
				}
			}
		}
		if len(out) == 0 {
			out = nil // the school has nothing of the kind: all is required
		}
		kinds[key] = out
		return out
	}, nil
}

// shownBy is what one aircraft can show by the versions in force.
func (r *Reports) shownBy(tx *store.Tx, serving []library.Version, a store.Aircraft) (shows, error) {
	of := func(kind string) (library.Version, bool) {
		i := slices.IndexFunc(serving,
			func(v library.Version) bool { return v.Kind == kind && v.AircraftType == a.Type })
		if i < 0 {
			return library.Version{}, false
		}
		return serving[i], true
	}
	typeV, hasType := of(library.KindType)
	listV, hasList := of(library.KindList)
	if !hasType || !hasList {
		return shows{}, nil
	}
	key := fmt.Sprintf("%s %s %d %s %d %s", tx.School, typeV.ID, typeV.Version, listV.ID, listV.Version,
		strings.Join(a.Equipment, " "))
	r.reach.Lock()
	known, ok := r.reach.known[key]
	r.reach.Unlock()
	if ok {
		return known, nil
	}
	types, err := store.Documents[aircraft.Type](tx, []library.Version{typeV})
	if err != nil {
		return shows{}, err
	}
	lists, err := store.Documents[checklist.List](tx, []library.Version{listV})
	if err != nil {
		return shows{}, err
	}
	t := types[0]
	elements, err := progress.Reach(lists[0], t, checklist.Aircraft{Equipment: a.Equipment}, checklist.ExerciseIDs(),
		r.catalog.Asked(t.ID))
	if err != nil {
		return shows{}, err
	}
	one := shows{aircraft.Type{ID: t.ID, Class: t.Class, EngineKind: t.EngineKind, StartType: t.StartType}, elements}
	r.reach.Lock()
	defer r.reach.Unlock()
	if r.reach.known == nil || len(r.reach.known) >= maxReach {
		r.reach.known = map[string]shows{}
	}
	r.reach.known[key] = one
	return one, nil
}
