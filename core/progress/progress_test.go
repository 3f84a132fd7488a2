package progress_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/progress"
	"jetprimer/core/standard"
)

func policy() progress.Policy {
	var p progress.Policy
	err := json.Unmarshal([]byte(`{"id":"default","version":1,"atLeast":3,
		"enter":{"lessons":3,"touched":4,"clearOfZero":5},"lose":{"below":2,"of":3},"restore":2,"lapseDays":60,
		"consolidated":{"lessons":5,"instructors":2},"criticalLessons":2,
		"stages":[{"id":"checks","title":"the checks","kinds":["skill"],"days":180}],
		"lessons":[{"id":"a","title":"A","phases":["one"]},{"id":"b","title":"B","phases":["one","two"]},{"id":"oral","title":"Oral","oral":true}]}`), &p)
	if err != nil {
		panic(err)
	}
	return p
}

// seen reads a history such as "L1:4 L1:3i L2/B:4 +70 L3:2": lessons, levels,
// i for an implied pass, /B for the instructor, +n for days gone by.
func seen(history string) []progress.Observation {
	day := time.Date(2026, 6, 1, 0, 0, 0, 0, time.UTC)
	var out []progress.Observation
	for _, word := range strings.Fields(history) {
		var days int
		if n, _ := fmt.Sscanf(word, "+%d", &days); n == 1 {
			day = day.AddDate(0, 0, days)
			continue
		}
		where, level, _ := strings.Cut(word, ":")
		id, instructor, other := strings.Cut(where, "/")
		if !other {
			instructor = "A"
		}
		out = append(out, progress.Observation{Element: "e", Lesson: id, Instructor: instructor,
			Level: int(level[0] - '0'), Implied: strings.HasSuffix(level, "i"), Date: day.Format(time.DateOnly)})
	}
	return out
}

func TestStanding(t *testing.T) {
	for _, c := range []struct{ history, asOf, want string }{
		{"", "2026-06-01", progress.NotSeen},
		{"L1:4 L1:4 L1:4", "2026-06-01", progress.Introduced},
		{"L1:4 L2:2", "2026-06-01", progress.Practising},
		{"L1:4 L2:4", "2026-06-01", progress.Practising},
		{"L1:4 L2:3 L3:4", "2026-06-01", progress.ToStandard},
		{"L1:4 L2:4 L3:3", "2026-06-01", progress.Practising},
		// By lesson, not by item: of two to nineteen items one is left aside.
		{"L1:4 L2:4 L3:2 L3:4", "2026-06-01", progress.ToStandard},
		{"L1:4 L2:4 L3:2 L3:2 L3:4", "2026-06-01", progress.Practising},
		{"L1:4 L2:4 L3:1 L3:4 L3:4", "2026-06-01", progress.Practising},
		{"L1:4 L2:4 L3:0 L3:4 L3:4", "2026-06-01", progress.Practising},
		// Implied showings never enter.
		{"L1:4 L2:4 L3:4i", "2026-06-01", progress.Practising},
		{"L1:4 L2:4 L3:4i L4:4", "2026-06-01", progress.ToStandard},
		{"L1:0 L2:4 L3:4 L4:4", "2026-06-01", progress.Practising},
		{"L1:0 L2:4 L3:4 L4:4 L5:4", "2026-06-01", progress.Practising},
		{"L1:0 L2:4 L3:4 L4:4 L5:4 L6:4", "2026-06-01", progress.ToStandard},
		{"L1:4 L2:4 L3:4", "2026-07-31", progress.ToStandard},
		{"L1:4 L2:4 L3:4", "2026-08-01", progress.Lapsed},
		// One slip is a slip.
		{"L1:4 L2:4 L3:4 L4:2", "2026-06-01", progress.ToStandard},
		{"L1:4 L2:4 L3:4 L4:2 L5:4 L6:4", "2026-06-01", progress.ToStandard},
		{"L1:4 L2:4 L3:4 L4:2 L5:2", "2026-06-01", progress.Lapsed},
		{"L1:4 L2:4 L3:4 L4:2 L5:4 L6:2", "2026-06-01", progress.Lapsed},
		{"L1:4 L2:4 L3:4 L4:2 L5:4i L6:2", "2026-06-01", progress.Lapsed},
		{"L1:4 L2:4 L3:4 L4:0", "2026-06-01", progress.Lapsed},
		{"L1:4 L2:4 L3:4 L4:0 L5:4", "2026-06-01", progress.Lapsed},
		{"L1:4 L2:4 L3:4 L4:0 L5:3 L6:4", "2026-06-01", progress.ToStandard},
		{"L1:4 L2:4 L3:4 L4:0 L5:4 L6:3", "2026-06-01", progress.Lapsed},
		{"L1:4 L2:4 L3:4 L4:0 L5:4 L6:4i", "2026-06-01", progress.Lapsed},
		// Sixty days without a showing, which an implied one keeps alive.
		{"L1:4 L2:4 L3:4 +61 L4:3", "2026-08-02", progress.Lapsed},
		{"L1:4 L2:4 L3:4 +60 L4:3", "2026-08-02", progress.ToStandard},
		{"L1:4 L2:4 L3:4 +40 L4:4i +40 L5:4i", "2026-08-20", progress.ToStandard},
		{"L1:4 L2:4 L3:4 +61 L4:4", "2026-08-02", progress.ToStandard},
		{"L1:4 L2/B:4 L3:4 L4:4 L5:4", "2026-06-01", progress.Consolidated},
		{"L1:4 L2/B:4 L3:4 L4:2 L5:4", "2026-06-01", progress.ToStandard},
		{"L1:4 L2/B:4 L3:4 L4:2 L5:4 L6:4", "2026-06-01", progress.Consolidated},
		{"L1:4 L2:4 L3:4 L4:4 L5:4", "2026-06-01", progress.ToStandard},
		{"L1:4 L2/B:4 L3:4 L4:4i L5:4i", "2026-06-01", progress.ToStandard},
	} {
		f := policy().Derive("e", seen(c.history))
		assert.Equal(t, c.want, f.Standing(c.asOf), "%s as of %s", c.history, c.asOf)
	}
}

// TestASlipIsASlip: it is said, and takes nothing away.
func TestASlipIsASlip(t *testing.T) {
	f := policy().Derive("e", seen("L1:4 L2:4 L3:4 L4:2"))
	assert.True(t, f.Slip)
	assert.Equal(t, progress.ToStandard, f.Held)
	assert.False(t, policy().Derive("e", seen("L1:4 L2:4 L3:4 L4:2 L5:4")).Slip)
}

// TestLessonLevel: of twenty items and more a tenth is left aside.
func TestWhatLapsesSoonIsTold(t *testing.T) {
	f := policy().Derive("e", seen("L1:4 L2:4 L3:4")) // until 31 July
	var got []bool
	for _, day := range []string{"2026-06-01", "2026-07-10", "2026-07-11", "2026-07-31", "2026-08-01"} {
		got = append(got, f.LapsesSoon(day))
	}
	assert.Equal(t, []bool{false, false, true, true, false}, got)
}

func TestLessonLevel(t *testing.T) {
	for _, c := range []struct{ twos, fours, want int }{
		{1, 0, 2}, {1, 1, 4}, {1, 18, 4}, {2, 17, 2}, {2, 18, 4}, {3, 17, 2}, {3, 27, 4},
	} {
		history := strings.Repeat("L1:2 ", c.twos) + strings.Repeat("L1:4 ", c.fours)
		assert.Equal(t, c.want, policy().Derive("e", seen(history)).History[0].Level, "%d of %d", c.twos,
			c.twos+c.fours)
	}
}

func TestStandingNeverRisesOnABadLesson(t *testing.T) {
	rank := map[string]int{
		progress.NotSeen: 0, progress.Introduced: 1, progress.Lapsed: 1, progress.Practising: 1, progress.ToStandard: 3,
		progress.Consolidated: 4,
	}
	rapid.Check(t, func(t *rapid.T) {
		var words []string
		for i := range rapid.IntRange(1, 12).Draw(t, "n") {
			words = append(words, fmt.Sprintf("L%d:%d", i/2, rapid.IntRange(0, 4).Draw(t, "level")))
		}
		history := strings.Join(words, " ")
		before := policy().Derive("e", seen(history)).Held
		after := policy().Derive("e", seen(history+fmt.Sprintf(" L9:%d", rapid.IntRange(0, 2).Draw(t, "bad")))).Held
		if rank[after] > max(rank[before], 1) {
			t.Fatalf("%s then a bad lesson is %s (was %s)", history, after, before)
		}
	})
}

// TestWhatAnElementNeeds: so many more lessons at level 4 bring it to standard, on any
// later day, and none fewer; of one that is to standard, so many once it has lapsed.
func TestWhatAnElementNeeds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var words []string
		for i := range rapid.IntRange(0, 14).Draw(t, "n") {
			words = append(words, fmt.Sprintf("L%d:%d%s +%d", i, rapid.IntRange(0, 4).Draw(t, "level"),
				rapid.SampledFrom([]string{"", "", "i"}).Draw(t, "implied"),
				rapid.SampledFrom([]int{0, 3, 40, 70}).Draw(t, "days")))
		}
		p, history := policy(), strings.Join(words, " ")
		p.Restore = rapid.IntRange(1, 4).Draw(t, "restore")
		p.Enter.ClearOfZero = rapid.IntRange(1, 14).Draw(t, "clear of zero")
		f := p.Derive("e", seen(history))
		later := fmt.Sprint(" +", rapid.IntRange(0, 200).Draw(t, "later"))
		if f.LapsesOn != "" {
			later = " +200"
		}
		met := func(more int) bool {
			all := history + later
			for i := range more {
				all += fmt.Sprintf(" M%d:4", i)
			}
			held := p.Derive("e", seen(all)).Held
			return held == progress.ToStandard || held == progress.Consolidated
		}
		if f.Needs < 1 || f.Needs > 1 && met(f.Needs-1) || f.Needs < 12 && !met(f.Needs) {
			t.Fatalf("%s: %d are not what it needs", history, f.Needs)
		}
	})
}

func list() checklist.List {
	return checklist.List{Phases: []checklist.Phase{
		{ID: "one", Items: []checklist.Item{{ID: "x", Challenge: "Brakes", Elements: []string{"e"}, Critical: true}}},
		{ID: "two", Items: []checklist.Item{{ID: "y", Elements: []string{"f"}, Knowledge: []string{"k"}}}},
	}}
}

func packs() []standard.Pack {
	return []standard.Pack{{ID: "p", Classes: []string{"single"},
		Tasks: []standard.Task{{ID: "t", Title: "Task", Elements: []standard.Element{
			{ID: "e", Kind: "skill", Text: "brakes"}, {ID: "f", Kind: "skill", Text: "flaps"},
			{ID: "k", Kind: "knowledge", Text: "why"}, {ID: "m", Classes: []string{"multi"}},
		}}}}}
}

func TestReadinessSaysExactlyWhatIsMissing(t *testing.T) {
	p := policy()
	c := progress.Case{AsOf: "2026-06-01", Class: "single", Packs: packs(), List: list(), Recommending: "A",
		Facts: map[string]progress.Facts{
			"e": p.Derive("e", seen("L1:4 L2:4 L3:4")),
			"f": p.Derive("f", seen("L1:4 L2:2")),
		},
		Asked: []string{"k"},
		Criticals: p.OpenCriticals([]progress.ItemLevel{
			{Lesson: "L1", Item: "x", Class: "single", Level: 0, Date: "2026-05-01"},
			{Lesson: "L1", Item: "x", Class: "single", Level: 4},
		}),
	}
	r := p.Ready(c)
	next, gain, found := p.Next(c)
	assert.Equal(t, []any{r.Plan[0], true}, []any{next, found})
	assert.InDelta(t, 1.0/3/3, gain, 1e-9, "one of three lessons of one element of three")
	glance, standings := p.Glance(c)
	assert.Len(t, standings, r.Required)
	assert.Equal(t, []any{r.Ready, r.Required, r.Met, r.Blocks},
		[]any{glance.Ready, glance.Required, glance.Met, glance.Blocks}, "a glance sees the same")
	assert.False(t, r.Ready)
	assert.Equal(t, 3, r.Required, "the element of another class is not required")
	assert.Equal(t, 1, r.Met)
	require.Len(t, r.Missing, 2)
	assert.Equal(t, "last seen at level 2; 3 more lessons at level 4, unprompted", r.Missing[0].Why)
	assert.Equal(t, "not seen yet; at least 3 more lessons", r.Missing[1].Why)
	assert.Equal(t, []string{
		"Stage check not flown yet with an instructor other than the one recommending: the checks.",
		"Critical error on 2026-05-01 not yet answered in 2 later lessons: Brakes.",
	}, r.Blocks)
	var plan []string
	for _, s := range r.Plan {
		plan = append(plan, s.Lesson+":"+strings.Join(s.Elements, ","))
	}
	assert.Equal(t, []string{"oral:k", "oral:k", "oral:k", "b:f", "b:f", "b:f", "stage-check:"}, plan,
		"of two that show as much the shorter")

	c.Facts["f"] = c.Facts["e"]
	c.Facts["k"] = c.Facts["e"]
	c.StageChecks = []progress.StageCheck{
		{Stage: "checks", Class: "single", Instructor: "B", Date: "2026-05-30", Passed: true},
	}
	c.Criticals = nil
	r = p.Ready(c)
	assert.True(t, r.Ready, "%v %v", r.Missing, r.Blocks)
	assert.Empty(t, r.Plan)
	c.AsOf = "2026-09-01"
	assert.Contains(t, p.Ready(c).Missing[0].Why, "lapsed on 2026-08-01; one more lesson")
}

func TestObservationsOfALesson(t *testing.T) {
	book := lesson.Book{
		Type: aircraft.Type{ID: "t", Class: "single", EngineKind: "piston", StartType: "carburetted"}, List: list(),
	}
	l := lesson.New(book)
	for i, e := range [][2]string{
		{
			lesson.KindOpened,
			`{"student":"s","instructor":"i","aircraft":"QZ-AAA","aircraftType":"t","typeVersion":1,"list":"l","listVersion":1,"method":"read-and-do","scale":"five","purpose":"stage-check"}`,
		},
		{lesson.KindItemResult, `{"item":"x","result":"done","implied":true}`},
		{lesson.KindPrompt, `{"item":"y"}`},
		{lesson.KindItemResult, `{"item":"y","result":"done"}`},
		{lesson.KindOral, `{"item":"y","question":"why?","level":3}`},
		{lesson.KindOral, `{"item":"y","question":"why flaps?","elements":["k"],"level":3}`},
	} {
		require.Equal(t, "held",
			l.Add(lesson.Event{ID: fmt.Sprintf("01900000-0000-7000-8000-%012d", i), Device: "d", Seq: int64(i + 1),
				Counter: int64(i + 1), Kind: e[0], V: 1, Payload: json.RawMessage(e[1])})[0].Status)
	}
	var got []string
	for _, o := range progress.FromLesson("L", "2026-06-01", l.State(), book) {
		assert.Equal(t, "single/piston/carburetted", o.Class+"/"+o.EngineKind+"/"+o.StartType)
		got = append(got, fmt.Sprintf("%s=%d implied=%v oral=%v", o.Element, o.Level, o.Implied, o.Oral))
	}
	assert.Equal(t, []string{
		"e=4 implied=true oral=false", "f=2 implied=false oral=false", "k=3 implied=false oral=true",
	}, got, "a question that names no element counts for none")
}
