package stand_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/stand"
)

// BenchmarkStand runs each type's engines at what its list leaves them at before the
// line-up, and reports how many seconds of theirs go by in one.
func BenchmarkStand(b *testing.B) {
	c, err := catalog.Shipped()
	require.NoError(b, err)
	for _, rig := range c.Rigs {
		b.Run(rig.Type, func(b *testing.B) {
			m := atRunUp(b, c, rig)
			for b.Loop() {
				m.Step()
			}
			b.ReportMetric(float64(b.N)/stand.TicksASecond/b.Elapsed().Seconds(), "s/s")
		})
	}
}

// TestAStepAllocatesNothing: whatever the type.
func TestAStepAllocatesNothing(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, rig := range c.Rigs {
		m := atRunUp(t, c, rig)
		assert.Zero(t, testing.AllocsPerRun(500, m.Step), rig.Type)
	}
}

// atRunUp is a type's stand as a good student has brought it to the run-up, with a fault.
func atRunUp(t testing.TB, c *catalog.Catalog, rig stand.Rig) *stand.Machine {
	typ, _ := c.Type(rig.Type)
	m := stand.New(rig, typ, standDays["standard"], 1)
	m.Slip(c.Faults[0], stand.Slipped{Severity: 1, From: stand.MaxSeconds})
	items := flownBy(t, c, typ)
	for i, item := range items {
		if item.Check == "charging" {
			items = items[:i+1]
			break
		}
	}
	_, err := stand.NewHand(m, standDays["standard"]).Work(items)
	require.NoError(t, err)
	return m
}
