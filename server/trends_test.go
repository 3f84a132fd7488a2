package server_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/demo"
)

// TestTrendsOfTheFleet: the magneto that creeps is named for the whole fleet and on
// its aircraft, over its meter's hours, by first tries; what is steady is not.
func TestTrendsOfTheFleet(t *testing.T) {
	url := start(t)
	maintenance := as(t, url, demo.Achterberg)
	notices := got[[]struct{ Registration, Label, State string }](t, maintenance, "GET", "/api/v1/trends", "")
	require.NotEmpty(t, notices)
	assert.LessOrEqual(t, len(notices), 2, "of some hundred steady series a control chart calls one now and then")
	assert.Equal(t, "QZ-AAB Magneto check, right drop attend",
		notices[0].Registration+" "+notices[0].Label+" "+notices[0].State)
	type view struct {
		Findings []struct {
			Registration, Condition string
			Tries                   []struct {
				Attempt      int
				State, Words string
			}
		}
		Series []struct {
			ID, Toward, State string
			High              float64
			Points            []struct{ Hours, Value float64 }
			Trend             struct {
				N            int
				HoursToLimit *float64
			}
		}
		Alike []struct {
			Registration string
			Newest       map[string]float64
		}
	}
	v := got[view](t, maintenance, "GET", "/api/v1/aircraft/QZ-AAB/trends", "")
	first := v.Series[0]
	assert.Equal(t, "magnetos magneto 1 rightDrop", first.ID)
	assert.Equal(t, [2]string{"above", "attend"}, [2]string{first.Toward, first.State})
	assert.EqualValues(t, 130, first.High)
	assert.Equal(t, len(first.Points), first.Trend.N)
	over := 0
	for i, p := range first.Points {
		if p.Value == 138 {
			over++
		}
		assert.NotEqual(t, 124.0, p.Value, "a second try, after clearing, is no trend")
		if i > 0 {
			assert.GreaterOrEqual(t, p.Hours, first.Points[i-1].Hours)
		}
	}
	assert.Equal(t, 1, over)
	assert.NotNil(t, first.Trend.HoursToLimit)
	for _, f := range v.Findings {
		assert.Equal(t, "QZ-AAB", f.Registration)
		if f.Condition == "closed" {
			assert.Empty(t, f.Tries)
			continue
		}
		require.Len(t, f.Tries, 2, "the first, and the one after clearing")
		assert.Equal(t, "out", f.Tries[0].State)
		assert.Contains(t, f.Tries[0].Words, "right drop 138 rpm (20 to 130 rpm): out of limits. ")
		assert.Equal(t, 2, f.Tries[1].Attempt)
		assert.Contains(t, f.Tries[1].Words, "right drop 124 rpm (20 to 130 rpm): within")
	}
	assert.Len(t, v.Alike, 2, "the other Alders")
	assert.Less(t, v.Alike[0].Newest[first.ID], 110.0)
	status, _ := maintenance.call("GET", "/api/v1/aircraft/QZ-ZZZ/trends", "")
	assert.Equal(t, 404, status)
}
