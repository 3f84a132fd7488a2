package recorder_test

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/recorder"
)

func sparked(t *testing.T) (out []aircraft.Type) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, typ := range c.Types {
		if typ.Ignition != "none" && !slices.ContainsFunc(out, func(o aircraft.Type) bool { return o.ID == typ.ID }) {
			newest, _ := c.Type(typ.ID)
			out = append(out, newest)
		}
	}
	return out
}

// TestPlantedRunUpsAreFound: on every type with an ignition check, at several
// rates and with a scatter that hides a needle's width, at least 99 of 100 run-ups
// are found, and what is measured in them lies within 10 rpm of what is true.
func TestPlantedRunUpsAreFound(t *testing.T) {
	planted, found, missed := 0, 0, map[string]int{}
	for _, typ := range sparked(t) {
		near := 10.0
		if typ.Tachometer == "percent" {
			near = 0.4
		}
		for seed := range uint64(20) {
			making := recorder.Making{
				Seed: seed, Interval: []float64{0.25, 0.5, 1}[seed%3], Noise: []float64{0, 0.0008, 0.0016}[seed%3],
				RunUps: 2,
			}
			made := recorder.Make(typ, making)
			runs := recorder.RunUps(made.Track, typ, recorder.Options{})
			for engine := 1; engine <= typ.Engines; engine++ {
				for _, truth := range made.Truth {
					planted++
					i := slices.IndexFunc(runs, func(r recorder.RunUp) bool {
						return r.Engine == engine && r.First <= truth.Last && r.Last >= truth.First
					})
					if i < 0 {
						missed[typ.ID]++
						continue
					}
					found++
					for _, m := range truth.Measured {
						k := slices.IndexFunc(runs[i].Measured,
							func(o recorder.Measured) bool { return o.Check == m.Check })
						if !assert.GreaterOrEqual(t, k, 0, "%s seed %d: %s was not measured: %v", typ.Name, seed,
							m.Check, runs[i].Measured) {
							continue
						}
						for field, want := range m.Reading {
							got := runs[i].Measured[k].Reading[field]
							if v, isNumber := want.(float64); isNumber {
								assert.InDelta(t, v, got, near, "%s seed %d %s %s", typ.Name, seed, m.Check, field)
							} else {
								assert.Equal(t, want, got, "%s seed %d %s %s", typ.Name, seed, m.Check, field)
							}
						}
					}
				}
			}
			assert.LessOrEqual(t, len(runs), len(made.Truth)*typ.Engines, "%s seed %d: one that is none", typ.Name,
				seed)
		}
	}
	assert.GreaterOrEqual(t, float64(found), 0.99*float64(planted), missed)
}

// TestWhatIsNoRunUp: a cold engine, one that moves, and a run-up that a gap cuts off
// before its second side.
func TestWhatIsNoRunUp(t *testing.T) {
	typ := sparked(t)[0]
	make := func() recorder.Made {
		return recorder.Make(typ, recorder.Making{Seed: 3, Interval: 1, Noise: 0.001, RunUps: 1})
	}
	require.Len(t, recorder.RunUps(make().Track, typ, recorder.Options{}), 1)
	cold := make()
	for i := range cold.Engines[0].OilC {
		cold.Engines[0].OilC[i] = 5
	}
	assert.Empty(t, recorder.RunUps(cold.Track, typ, recorder.Options{}))
	moving := make()
	for i := range moving.GroundKt {
		moving.GroundKt[i] = 40
	}
	assert.Empty(t, recorder.RunUps(moving.Track, typ, recorder.Options{}))
	bare := make()
	bare.GroundKt, bare.Engines[0].OilC, bare.Engines[0].ExhaustC = nil, nil, nil
	assert.NotEmpty(t, recorder.RunUps(bare.Track, typ, recorder.Options{}), "what is not recorded stops nothing")
	unknown := make()
	for i := range unknown.Engines[0].Speed {
		unknown.Engines[0].Speed[i] = math.NaN()
	}
	assert.Empty(t, recorder.RunUps(unknown.Track, typ, recorder.Options{}))
}

// TestTheSecondSideFirst: a school that begins on RIGHT finds each side under its
// own name.
func TestTheSecondSideFirst(t *testing.T) {
	typ := sparked(t)[0]
	made := recorder.Make(typ, recorder.Making{Seed: 4, Interval: 0.5, RunUps: 1})
	first := recorder.RunUps(made.Track, typ, recorder.Options{})[0].Measured[0].Reading
	second := recorder.RunUps(made.Track, typ, recorder.Options{SecondFirst: true})[0].Measured[0].Reading
	assert.Equal(t, [2]any{first["left"], first["right"]}, [2]any{second["right"], second["left"]})
}
