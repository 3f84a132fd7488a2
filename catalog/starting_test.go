package catalog_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/check"
	"jetprimer/core/checklist"
	"jetprimer/core/handbook"
)

func ids(l checklist.List) []string {
	var out []string
	for _, p := range l.Places() {
		out = append(out, p.Item.ID)
	}
	return out
}

// TestAKindOnceDescribedHasTheListOfItsKind: of each kind, with every number
// given, the starting list is that of the kind, sound and for the new type.
func TestAKindOnceDescribedHasTheListOfItsKind(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	like := map[string]bool{}
	for _, k := range c.Kinds {
		like[k.Like] = true
		model, _ := c.Type(k.Like)
		outline, known := c.ListFor(k.Like)
		require.True(t, known)
		own, err := handbook.Copy(model)
		require.NoError(t, err)
		own.ID, own.Name, own.Source = "dove", "Dove", "fictional type, Dove handbook data, rev 1"
		list, left := c.StartingList(outline, own, c.Packs)
		for _, l := range left {
			assert.Equal(t, "what it is for is not fitted", l.Why, "%s: %s", k.ID, l.Item)
		}
		assert.Equal(t, "dove", list.AircraftType)
		assert.Empty(t, c.Surroundings(own, c.Packs).ListProblems(list), k.ID)
		_, err = checklist.Tailor(list, nil, own, checklist.Aircraft{}, checklist.Day{})
		assert.NoError(t, err, k.ID)
	}
	for _, typ := range c.Types {
		assert.True(t, like[typ.ID], "no kind is like the %s", typ.Name)
	}
}

// TestStartingListsFitWhatTheTypeHas: for every kind, each piece of equipment,
// gauge, place, time and check taken away and each piece of any type's equipment
// put in leaves a list without a mistake; what is off is told with its reason.
func TestStartingListsFitWhatTheTypeHas(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	var every []aircraft.Equipment
	for _, typ := range c.Types {
		for _, e := range typ.Equipment {
			if !slices.ContainsFunc(every, func(o aircraft.Equipment) bool { return o.ID == e.ID }) {
				every = append(every, e)
			}
		}
	}
	for _, k := range c.Kinds {
		model, _ := c.Type(k.Like)
		outline, _ := c.ListFor(k.Like)
		try := func(what string, change func(*aircraft.Type)) []checklist.Left {
			own, err := handbook.Copy(model)
			require.NoError(t, err)
			own.ID, own.Name, own.Source = "dove", "Dove", "fictional type"
			change(&own)
			list, left := c.StartingList(outline, own, c.Packs)
			assert.Empty(t, c.Surroundings(own, c.Packs).ListProblems(list), "%s, %s", k.ID, what)
			for _, l := range left {
				assert.NotContains(t, ids(list), l.Item)
				assert.NotEmpty(t, l.Why)
			}
			return left
		}
		for i, e := range model.Equipment {
			try("without "+e.ID, func(a *aircraft.Type) { a.Equipment = slices.Delete(a.Equipment, i, i+1) })
		}
		for _, e := range every {
			if !slices.ContainsFunc(model.Equipment, func(o aircraft.Equipment) bool { return o.ID == e.ID }) {
				try("with "+e.ID, func(a *aircraft.Type) { a.Equipment = append(a.Equipment, e) })
			}
		}
		for i, g := range model.Gauges {
			try("without "+g.ID,
				func(a *aircraft.Type) { a.Gauges = slices.Delete(a.Gauges, i, i+1); delete(a.Limits["gauges"], g.ID) })
		}
		for i, p := range model.Cockpit {
			try("without the place "+p.ID, func(a *aircraft.Type) { a.Cockpit = slices.Delete(a.Cockpit, i, i+1) })
		}
		for i, d := range model.Durations {
			try("without the time "+d.ID, func(a *aircraft.Type) { a.Durations = slices.Delete(a.Durations, i, i+1) })
		}
		before := len(try("as it is", func(*aircraft.Type) {}))
		for name := range model.Limits {
			left := try("without "+name, func(a *aircraft.Type) { delete(a.Limits, name) })
			assert.GreaterOrEqual(t, len(left), before)
		}
	}
}

// TestStockIsPutInForEquipment: where the outline does not know it, behind what
// stands before it in the stock.
func TestStockIsPutInForEquipment(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	model, _ := c.Type("juniper-h2")
	outline, _ := c.ListFor("juniper-h2")
	own, err := handbook.Copy(model)
	require.NoError(t, err)
	own.ID, own.Name, own.Source = "dove", "Dove", "fictional type"
	before, _ := c.StartingList(outline, own, c.Packs)
	own.Equipment = append(own.Equipment, aircraft.Equipment{
		ID: "carbon-monoxide-alarm", Label: "carbon monoxide alarm", Optional: true,
	})
	after, _ := c.StartingList(outline, own, c.Packs)
	assert.NotContains(t, ids(before), "alarm-co")
	assert.Contains(t, ids(after), "alarm-co")
	assert.Len(t, ids(after), len(ids(before))+1)
}

// TestAnEmptyDescriptionHasAListOfWhatIsSeen: before any number is typed every
// measured item is off, each saying that its limits are not complete.
func TestAnEmptyDescriptionHasAListOfWhatIsSeen(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	model, _ := c.Type("alder-110")
	outline, _ := c.ListFor("alder-110")
	own, err := handbook.Blank(model)
	require.NoError(t, err)
	own.ID, own.Name, own.Source = "dove", "Dove", "fictional type"
	list, left := c.StartingList(outline, own, c.Packs)
	why := map[string]string{}
	for _, l := range left {
		why[l.Item] = l.Why
	}
	assert.Equal(t, "its limits are not complete", why["magnetos"])
	assert.Contains(t, ids(list), "brakes-held")
	for _, p := range list.Places() {
		assert.NotEqual(t, "magneto", p.Item.Check)
	}
}

// TestStartingListsOfKindsNobodyShips: a constant-speed single with gear and cowl flaps,
// an injected helicopter, an engine without mixture lever and a panel without suction
// have the items for what they have and none for what they have not; every check that
// the type has limits for is on the list or is told as missing.
func TestStartingListsOfKindsNobodyShips(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	twin, _ := c.Type("hornbeam-twin")
	for name, v := range map[string]struct {
		like    string
		change  func(*aircraft.Type)
		has, no []string
		told    []string
	}{
		"constant-speed single, retractable": {"alder-110", func(a *aircraft.Type) {
			a.Propeller = "constant-speed"
			delete(a.Limits, "static-rpm")
			for _, name := range []string{"propeller", "governor-hold"} {
				a.Limits[name] = twin.Limits[name]
			}
			for _, id := range []string{"cowl-flaps", "retractable-gear"} {
				a.Equipment = append(a.Equipment, aircraft.Equipment{ID: id, Label: id})
			}
			for _, p := range twin.Cockpit {
				if p.ID == "gear" || p.ID == "cowl-flaps" {
					a.Cockpit = append(a.Cockpit, p)
				}
			}
		},
			[]string{
				"propellers-forward", "cycling", "governor", "propellers-takeoff", "cowl-flaps-open",
				"cowl-flaps-takeoff", "gear-look", "gear-lever",
			},
			[]string{"feather-check", "engines-compared", "static-rpm"}, nil},
		"constant-speed single, fixed gear": {"alder-110", func(a *aircraft.Type) {
			a.Propeller = "constant-speed"
			a.Limits["propeller"] = twin.Limits["propeller"]
		}, []string{"propellers-forward", "cycling", "propellers-takeoff"},
			[]string{"gear-look", "cowl-flaps-open", "governor"}, nil},
		"injected helicopter": {"juniper-h2", func(a *aircraft.Type) { a.StartType = "injected" },
			[]string{"mixture-cutoff-start", "mixture-fires", "mixture-cutoff"}, []string{"mixture-rich"}, nil},
		"no mixture lever": {"alder-110", func(a *aircraft.Type) { a.StartType = "electronic" },
			[]string{"magnetos", "crank"},
			[]string{
				"mixture-rich", "lean-ground", "mixture-runup", "mixture-altitude", "mixture-takeoff", "idle-mixture",
				"mixture-cutoff", "flooded-plan",
			}, []string{"Mixture"}},
		"lanes for magnetos": {"alder-110", func(a *aircraft.Type) {
			sorrel, _ := c.Type("sorrel-100")
			a.Ignition, a.StartType = "lanes", "electronic"
			a.Limits["lanes"] = sorrel.Limits["lanes"]
			delete(a.Limits, "magneto")
			delete(a.Limits, "dead-cut")
			a.Cockpit = append(a.Cockpit, aircraft.Place{ID: "lanes", Label: "lanes", X: 20, Y: 60})
		}, []string{"lanes-on", "lane-check", "lanes-both", "lanes-takeoff", "lanes-off"},
			[]string{"magnetos", "ignition-both", "ignition-takeoff", "magnetos-off"}, nil},
		"no suction": {
			"alder-110", func(a *aircraft.Type) { delete(a.Limits, "suction") }, []string{"magnetos"},
			[]string{"suction"}, nil,
		},
		"a check that no list of its kind has": {"alder-110", func(a *aircraft.Type) {
			a.Limits["feather"] = twin.Limits["feather"]
			a.Cockpit = slices.DeleteFunc(a.Cockpit, func(p aircraft.Place) bool { return p.ID == "levers" })
		}, []string{"magnetos"}, []string{"feather-check"}, []string{"Feather"}},
	} {
		model, _ := c.Type(v.like)
		outline, _ := c.ListFor(v.like)
		own, err := handbook.Copy(model)
		require.NoError(t, err)
		own.ID, own.Name, own.Source = "dove", "Dove", "fictional type"
		v.change(&own)
		list, left := c.StartingList(outline, own, c.Packs)
		assert.Empty(t, c.Surroundings(own, c.Packs).ListProblems(list), name)
		there := ids(list)
		for _, id := range v.has {
			assert.Contains(t, there, id, name)
		}
		for _, id := range v.no {
			assert.NotContains(t, there, id, name)
		}
		told, measured := "", map[string]bool{}
		for _, l := range left {
			told += l.Challenge + ": " + l.Why + "\n"
		}
		for _, text := range v.told {
			assert.Contains(t, told, text, name)
		}
		for _, p := range list.Places() {
			measured[p.Item.Check] = true
		}
		for limits := range own.Limits {
			def, known := check.Find(limits)
			if known && check.CheckLimits(limits, own.Limits[limits]) == nil && !measured[limits] {
				assert.Contains(t, told, def.Title+": the type has limits for it", "%s: %s is left out silently", name,
					limits)
			}
		}
		for _, p := range list.Places() {
			if own.StartType == "electronic" {
				assert.NotContains(t, p.Item.Challenge, "Mixture", name)
			}
		}
	}
}
