package policy_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/policy"
	"jetprimer/core/quantity"
	"jetprimer/core/school"
)

func known(t *testing.T) (policy.Known, policy.Policy) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	k := policy.Known{Types: c.Types}
	var scales []string
	for _, s := range c.Scales {
		scales = append(scales, s.ID)
		k.Scales = append(k.Scales, policy.Choice{ID: s.ID, Words: s.Title})
	}
	for _, p := range c.Packs {
		k.Packs = append(k.Packs, policy.Choice{ID: p.ID, Words: p.Title})
	}
	return k, policy.Default(c.Policy, scales, school.Settings{FuelMethod: "fuller-first"})
}

func row(t *testing.T, s policy.Sheet, path string) policy.Row {
	for _, r := range s.Rows {
		if r.Path == path {
			return r
		}
	}
	t.Fatalf("no row %s", path)
	return policy.Row{}
}

// TestADefaultPolicyIsSound: it has no mistake, keeps what the school had set
// before, says a sentence of every decision, and every decision as it stands can
// be made again without changing it.
func TestADefaultPolicyIsSound(t *testing.T) {
	k, p := known(t)
	assert.Empty(t, p.Problems())
	assert.Equal(t, "fuller-first", p.FuelMethod)
	for _, u := range []quantity.Units{{}, {Height: "m"}} {
		s := policy.SheetOf(p, &p, k, u)
		assert.Empty(t, s.Problems)
		assert.Greater(t, len(s.Rows), 20)
		for _, r := range s.Rows {
			assert.NotEmpty(t, r.Words, r.Path)
			assert.NotEmpty(t, r.Label, r.Path)
			assert.Empty(t, r.Was, r.Path)
			again, err := policy.Apply(p, policy.Edit{Path: r.Path, Text: r.Text, Chosen: r.Chosen}, k, u)
			require.NoError(t, err, r.Path)
			if u.Height == "" {
				if again.StartOrders != nil && len(again.StartOrders) == 0 {
					again.StartOrders = nil
				}
				assert.Equal(t, p, again, r.Path)
			}
			for _, c := range r.Choices {
				one, err := policy.Apply(p, policy.Edit{Path: r.Path, Chosen: []string{c.ID}}, k, u)
				require.NoError(t, err, "%s %s", r.Path, c.ID)
				assert.Empty(t, one.Problems(), "%s %s", r.Path, c.ID)
				assert.Equal(t, []string{c.ID}, row(t, policy.SheetOf(one, nil, k, u), r.Path).Chosen)
			}
		}
	}
}

// TestDecisionsAreReadStrictly: with the path and what is allowed.
func TestDecisionsAreReadStrictly(t *testing.T) {
	k, p := known(t)
	for _, c := range []struct {
		edit policy.Edit
		want string
	}{
		{policy.Edit{Path: "standing.lapseDays", Text: "3"}, "standing.lapseDays must be 7 to 730 days"},
		{policy.Edit{Path: "standing.lapseDays", Text: "two"}, "is not a plain number in days"},
		{policy.Edit{Path: "standing.lapseDays", Text: "60.5"}, "is a whole number"},
		{policy.Edit{Path: "standing.lapseDays", Text: ""}, "plain number"},
		{policy.Edit{Path: "turnBackFt", Text: "100"}, "must be 200 to 3000 ft"},
		{policy.Edit{Path: "leaning", Chosen: []string{"sometimes"}}, `leaning cannot be "sometimes"`},
		{policy.Edit{Path: "leaning"}, "is decided one way"},
		{policy.Edit{Path: "scales", Chosen: []string{"stars"}}, `scales cannot be "stars"`},
		{policy.Edit{Path: "startOrders.alder-110", Chosen: []string{"1,2"}}, "is no decision"},
		{policy.Edit{Path: "song", Text: "1"}, `"song" is no decision`},
	} {
		_, err := policy.Apply(p, c.edit, k, quantity.Units{})
		assert.ErrorContains(t, err, c.want)
	}
	none, err := policy.Apply(p, policy.Edit{Path: "scales"}, k, quantity.Units{})
	require.NoError(t, err)
	assert.Equal(t, "must name at least one", row(t, policy.SheetOf(none, &p, k, quantity.Units{}), "scales").Problem)
	none.Standing.Lose.Of = 0
	none.ID = "another"
	s := policy.SheetOf(none, nil, k, quantity.Units{})
	assert.Len(t, s.Problems, 2,
		"what belongs to no row is said as well: the id, and how the standing's numbers go together")
	assert.NotEmpty(t, row(t, s, "standing.lose.of").Problem)
}

// TestWhatADayTakesOfAPolicy: by type and in the units of a person.
func TestWhatADayTakesOfAPolicy(t *testing.T) {
	k, p := known(t)
	for _, e := range []policy.Edit{
		{Path: "deadCut", Chosen: []string{"false"}}, {Path: "leaning", Chosen: []string{"never"}},
		{Path: "breakers", Chosen: []string{"never"}},
		{Path: "startOrders.hornbeam-twin", Chosen: []string{"2,1"}}, {Path: "turnBackFt", Text: "300"},
	} {
		var err error
		p, err = policy.Apply(p, e, k, quantity.Units{Height: "m"})
		require.NoError(t, err)
	}
	assert.Equal(t, policy.ForDay{
		FuelMethod: "fuller-first", TurnBack: "984", Skips: []string{"dead-cut", "mixture-peak"}, Breakers: "never",
		Passing: "everything", StartOrder: []int{2, 1},
	}, p.ForDay("hornbeam-twin", quantity.Units{}))
	day := p.ForDay("alder-110", quantity.Units{Height: "m"})
	assert.Equal(t, "300", day.TurnBack)
	assert.Empty(t, day.StartOrder)
	assert.Nil(t, p.StartOrder("larch-d2"))
	var before policy.Policy
	_, before = known(t)
	assert.Equal(t, "900 ft", row(t, policy.SheetOf(p, &before, k, quantity.Units{}), "turnBackFt").Was)
	assert.Equal(t, "as the maker has it",
		row(t, policy.SheetOf(p, &before, k, quantity.Units{}), "startOrders.hornbeam-twin").Was)
}

// TestWhatCannotBeAPolicyIsSaid: each mistake at its path.
func TestWhatCannotBeAPolicyIsSaid(t *testing.T) {
	for want, change := range map[string]func(p *policy.Policy){
		"id must be policy":                        func(p *policy.Policy) { p.ID = "mine" },
		"title is missing":                         func(p *policy.Policy) { p.Title = "" },
		"version must be 1 or more":                func(p *policy.Policy) { p.Version = 0 },
		"standing policy":                          func(p *policy.Policy) { p.Standing.Plans = nil },
		"standing.lapseDays must be 7 to 730":      func(p *policy.Policy) { p.Standing.LapseDays = 800 },
		"standing.stages[0].days must be 1":        func(p *policy.Policy) { p.Standing.Stages[0].Days = 9000 },
		`methods[0] "song" is not known`:           func(p *policy.Policy) { p.Methods = []string{"song"} },
		`scales[1] "five" is not known, or is the`: func(p *policy.Policy) { p.Scales = []string{"five", "five"} },
		"standing.standards must name":             func(p *policy.Policy) { p.Standing.Standards = nil },
		`fuelMethod "" is none of`:                 func(p *policy.Policy) { p.FuelMethod = "" },
		`timeRule "sundial" is none of`:            func(p *policy.Policy) { p.TimeRule = "sundial" },
		`leaning "a little" is none of`:            func(p *policy.Policy) { p.Leaning = "a little" },
		`breakers "tape" is none of`:               func(p *policy.Policy) { p.Breakers = "tape" },
		"turnBackFt must be 200 to 3000":           func(p *policy.Policy) { low := 100; p.TurnBackFt = &low },
		"startOrders.larch-d2 must name each": func(p *policy.Policy) {
			p.StartOrders = map[string][]int{"larch-d2": {1, 1}}
		},
		"startOrders.rowan-180i must name each": func(p *policy.Policy) {
			p.StartOrders = map[string][]int{"rowan-180i": {1}}
		},
		"keepYears must be 1 to 60": func(p *policy.Policy) { p.KeepYears = 0 },
	} {
		_, p := known(t)
		change(&p)
		said := ""
		for _, f := range p.Problems() {
			said += f.Error() + "\n"
		}
		assert.Contains(t, said, want)
	}
}

// TestAPolicyOfEndlessStagesIsRefused: the sheet stays small whatever is sent.
func TestAPolicyOfEndlessStagesIsRefused(t *testing.T) {
	k, p := known(t)
	require.NotEmpty(t, p.Standing.Stages)
	usual := len(policy.SheetOf(p, nil, k, quantity.Units{}).Rows)
	for len(p.Standing.Stages) < 5000 {
		p.Standing.Stages = append(p.Standing.Stages, p.Standing.Stages[0])
	}
	require.NotEmpty(t, p.Problems())
	assert.Equal(t, "has 5000 stages; at most 20 are read", p.Problems()[0].Reason)
	assert.Less(t, len(policy.SheetOf(p, nil, k, quantity.Units{}).Rows), usual+20)
}
