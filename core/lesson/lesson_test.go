package lesson_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/internal/parsertest"
)

func book() lesson.Book {
	return lesson.Book{
		Type: aircraft.Type{ID: "alder", Engines: 1, LeanOnGround: true, Durations: []aircraft.Duration{
			{ID: "crank", Label: "starter turning", MaxSeconds: 10, Act: true}, {
				ID: "oil", Label: "oil pressure up", MaxSeconds: 1,
			}}, Limits: map[string]map[string]any{
			"idle": {"min": 550, "max": 750, "seconds": 5},
			"piston-start": {"crankMaxSeconds": 10, "restMinSeconds": 20, "attemptsMax": 3, "rpmMax": 1200,
				"oilPressureSeconds": 30, "oilPressureSecondsCold": 60, "coldBelowC": -7},
			"turbine-start": {"batteryMinVolts": 24, "tailwindCautionKt": 10, "fuelSpoolMinPercent": 12,
				"fuelTempMaxC": 150, "lightOffMaxSeconds": 3, "tempLimitC": 810,
				"tempAbsoluteMaxC": 927, "secondsAboveLimitMax": 10, "toIdleMaxSeconds": 60, "idleMinPercent": 59,
				"idleMaxPercent": 65},
		}},
		List: checklist.List{ID: "alder-full", AircraftType: "alder", Version: 1, Phases: []checklist.Phase{
			{ID: "start", Title: "Start", Items: []checklist.Item{
				{ID: "brakes", Critical: true}, {ID: "beacon"},
				{ID: "clear", Challenge: "Area", Critical: true, After: []string{"brakes"}},
				{ID: "crank", Critical: true, After: []string{"brakes", "clear"}, Check: "piston-start"},
			}},
			{
				ID: "run-up", Title: "Run-up",
				Items: []checklist.Item{
					{ID: "power", After: []string{"brakes"}}, {ID: "idle", Check: "idle"}, {ID: "decision"},
				},
			},
		}},
	}
}

// tape writes events the way a tablet does.
type tape struct {
	device string
	n      int64
	events []lesson.Event
}

func (w *tape) id() string {
	return fmt.Sprintf("01900000-0000-7000-8000-%04x%08x", len(w.device), w.n)
}

func (w *tape) add(kind, payload string) string {
	w.n++
	e := lesson.Event{ID: w.id(), Device: w.device, Seq: w.n, Counter: w.n, AtMs: w.n * 1000,
		Wall: "2026-11-24T09:00:00Z", Kind: kind, V: 1, Payload: json.RawMessage(payload)}
	w.events = append(w.events, e)
	return e.ID
}

func (w *tape) mark(item string) {
	w.add(lesson.KindItemResult, fmt.Sprintf(`{"item":%q,"result":"done"}`, item))
}

func opened(method string) *tape {
	w := &tape{device: "tablet"}
	w.add(lesson.KindOpened, fmt.Sprintf(`{"student":"s","instructor":"i","aircraft":"QZ-AAA","aircraftType":"alder","typeVersion":1,
		"list":"alder-full","listVersion":1,"method":%q,"scale":"five","purpose":"training","conditions":{"rules":"VFR","night":false}}`, method))
	return w
}

func fold(t require.TestingT, events []lesson.Event) lesson.State {
	l := lesson.New(book())
	for _, a := range l.Add(events...) {
		require.NotEqual(t, "refused", a.Status, a.Reason)
	}
	return l.State()
}

// levels prints each observed item's level, with * for out of order.
func levels(s lesson.State) string {
	var out []string
	for _, item := range s.Items {
		if item.Level == nil {
			continue
		}
		star := ""
		if item.OutOfOrder {
			star = "*"
		}
		out = append(out, fmt.Sprintf("%s%s=%d", item.ID, star, *item.Level))
	}
	return strings.Join(out, " ")
}

func TestLevelsFollowFromMarks(t *testing.T) {
	for _, c := range []struct {
		name, method string
		marks        func(w *tape)
		want         string
	}{
		{"right, in order", "read-and-do",
			func(w *tape) { w.mark("brakes"); w.mark("beacon"); w.mark("clear"); w.mark("crank") },
			"brakes=4 beacon=4 clear=4 crank=4"},
		{"prompted, helped, wrong, put right alone", "read-and-do", func(w *tape) {
			w.add(lesson.KindPrompt, `{"item":"brakes"}`)
			w.mark("brakes")
			w.add(lesson.KindAssist, `{"item":"beacon"}`)
			w.mark("beacon")
			w.add(lesson.KindItemResult, `{"item":"power","result":"wrong"}`)
			w.add(lesson.KindSelfCorrection, `{"item":"idle"}`)
			w.mark("idle")
		}, "brakes=2 beacon=1 power=1 idle=3"},
		{"left out: critical or not; not fitted has none", "read-and-do", func(w *tape) {
			w.add(lesson.KindOmitted, `{"item":"beacon"}`)
			w.add(lesson.KindOmitted, `{"item":"brakes"}`)
			w.add(lesson.KindNotApplicable, `{"item":"power"}`)
		}, "brakes=0 beacon=1"},
		{"one out of order: the fewest are blamed", "read-and-do",
			func(w *tape) { w.mark("decision"); w.mark("brakes"); w.mark("beacon") },
			"brakes=4 beacon=4 decision*=3"},
		{"two swapped: the late one is blamed", "read-and-do", func(w *tape) { w.mark("beacon"); w.mark("brakes") },
			"brakes*=3 beacon=4"},
		{"a repeated item counts at its first completion", "read-and-do",
			func(w *tape) { w.mark("brakes"); w.mark("beacon"); w.mark("brakes") },
			"brakes=4 beacon=4"},
		{"flow: free inside a phase, not across", "flow-then-verify", func(w *tape) {
			w.mark("beacon")
			w.mark("brakes")
			w.mark("decision")
			w.mark("power")
			w.mark("clear")
		},
			"brakes=4 beacon=4 clear*=3 power=4 decision=4"},
		{"flow: found by the student's own verification", "flow-then-verify", func(w *tape) {
			w.add(lesson.KindLate, `{"item":"beacon","found":"verification"}`)
			w.mark("beacon")
		}, "beacon=3"},
		{"precedence is a safety error in either method", "flow-then-verify",
			func(w *tape) { w.mark("clear"); w.mark("brakes") },
			"brakes=1 clear=0"},
		{"precedence against an omitted item", "read-and-do",
			func(w *tape) { w.add(lesson.KindOmitted, `{"item":"clear"}`); w.mark("crank") },
			"clear=0 crank=0"},
		{
			"a predecessor that was not observed blames nobody", "read-and-do", func(w *tape) { w.mark("power") },
			"power=4",
		},
		{"errors by severity", "read-and-do", func(w *tape) {
			w.mark("brakes")
			w.add(lesson.KindError, `{"item":"brakes","code":"not-compared","severity":"slip"}`)
			w.mark("beacon")
			w.add(lesson.KindError, `{"item":"beacon","code":"wrong-limit","severity":"wrong"}`)
			w.mark("power")
			w.add(lesson.KindError, `{"item":"power","code":"brake-creep","severity":"unsafe"}`)
		}, "brakes=3 beacon=1 power=0"},
		{"technique seen by a check", "read-and-do", func(w *tape) {
			w.mark("crank")
			w.add(lesson.KindReading, `{"item":"crank","check":"piston-start","reading":{"attempts":[{"crankSeconds":12,"restSeconds":0}],
				"fired":true,"rpmPeak":1000,"secondsToOilPressure":5,"starterLampOut":true,"chargeRestored":true}}`)
		}, "crank=1"},
		{"implied never covers a mark", "read-and-do", func(w *tape) {
			w.add(lesson.KindItemResult, `{"item":"brakes","result":"wrong"}`)
			w.add(lesson.KindItemResult, `{"item":"brakes","result":"done","implied":true}`)
		}, "brakes=1"},
		{
			"later wins: done after left out", "read-and-do",
			func(w *tape) { w.add(lesson.KindOmitted, `{"item":"brakes"}`); w.mark("brakes") }, "brakes=4",
		},
		{"override stands over the proposal", "read-and-do", func(w *tape) {
			w.mark("brakes")
			w.add(lesson.KindOverride, `{"item":"brakes","level":2,"reason":"slow"}`)
		}, "brakes=2"},
	} {
		w := opened(c.method)
		c.marks(w)
		assert.Equal(t, c.want, levels(fold(t, w.events)), c.name)
	}
}

func TestUndo(t *testing.T) {
	w := opened("read-and-do")
	w.mark("brakes")
	omitted := w.add(lesson.KindOmitted, `{"item":"beacon"}`)
	assert.Equal(t, []string{omitted}, fold(t, w.events).LastTouch)
	undo := w.add(lesson.KindUndo, fmt.Sprintf(`{"targets":[%q]}`, omitted))
	assert.Equal(t, "brakes=4", levels(fold(t, w.events)))
	w.add(lesson.KindUndo, fmt.Sprintf(`{"targets":[%q]}`, undo))
	assert.Equal(t, "brakes=4 beacon=1", levels(fold(t, w.events)), "an undo may be undone")
}

func TestReadingsAttemptsAndProblems(t *testing.T) {
	w := opened("read-and-do")
	idle := func(rpm int) string {
		return w.add(lesson.KindReading,
			fmt.Sprintf(`{"item":"idle","check":"idle","reading":{"rpm":%d,"seconds":6,"stopped":false}}`, rpm))
	}
	first := idle(500)
	s := fold(t, w.events)
	assert.Equal(t, "recheck", string(s.Readings[0].Verdict.Decision))
	require.Len(t, s.Problems, 1)
	assert.Contains(t, s.Problems[0].Message, "“Idle check” asked to be done again")

	second := idle(510)
	s = fold(t, w.events)
	assert.Equal(t, 2, s.Readings[1].Attempt)
	require.Len(t, s.Problems, 1)
	assert.Contains(t, s.Problems[0].Message, "“Idle check” asked to stop, and nobody has decided")

	w.add(lesson.KindDecision, fmt.Sprintf(`{"about":%q,"decision":"carried-on"}`, second))
	assert.Contains(t, fold(t, w.events).Problems[0].Message, "Nobody is named who was told")
	w.add(lesson.KindDecision, fmt.Sprintf(`{"about":%q,"decision":"carried-on","told":"maintenance"}`, second))
	assert.Contains(t, fold(t, w.events).Problems[0].Message, "does not say why")
	w.add(lesson.KindDecision, fmt.Sprintf(`{"about":%q,"decision":"grounded","told":"maintenance"}`, second))
	assert.Empty(t, fold(t, w.events).Problems)

	w.add(lesson.KindFinding, fmt.Sprintf(`{"item":"idle","reading":%q,"words":"idle low twice"}`, second))
	assert.Contains(t, fold(t, w.events).Problems[0].Message, "no decision: idle low twice")

	w.add(lesson.KindUndo, fmt.Sprintf(`{"targets":[%q]}`, first))
	s = fold(t, w.events)
	assert.Equal(t, 1, s.Readings[0].Attempt, "undoing a try renumbers the ones after it")
	assert.Equal(t, "recheck", string(s.Readings[0].Verdict.Decision))

	w.add(lesson.KindReading, `{"item":"idle","check":"idle","reading":{"rpm":600}}`)
	assert.Contains(t, fold(t, w.events).Readings[1].Unusable, "reading.seconds is missing")
}

// TestARecorderMeasuresTheTryThatWasTyped: it is no try of its own, unless nothing
// was typed.
func TestARecorderMeasuresTheTryThatWasTyped(t *testing.T) {
	w := opened("read-and-do")
	read := func(rpm int, source string) {
		w.add(lesson.KindReading,
			fmt.Sprintf(`{"item":"idle","check":"idle","reading":{"rpm":%d,"seconds":6,"stopped":false}%s}`, rpm,
				source))
	}
	recorder := `,"source":"recorder"`
	read(504, recorder)
	read(510, "")
	read(508, recorder)
	read(650, "")
	var got []string
	for _, r := range fold(t, w.events).Readings {
		got = append(got, fmt.Sprint(r.Attempt, r.Source, " ", r.Verdict.Decision))
	}
	assert.Equal(t, []string{"1recorder recheck", "2 stop", "2recorder stop", "3 continue"}, got)
	e := w.events[1]
	e.Payload = json.RawMessage(`{"item":"idle","check":"idle","reading":{},"source":"hearsay"}`)
	assert.ErrorContains(t, e.Validate(), "payload.source")
}

func TestTimersCountByTheDevice(t *testing.T) {
	w := opened("read-and-do")
	w.add(lesson.KindTimerStarted, `{"timer":"oil","item":"crank"}`)
	assert.True(t, fold(t, w.events).Timers[0].Running)
	w.add(lesson.KindNote, `{"words":"while it runs"}`)
	w.add(lesson.KindTimerStopped, `{"timer":"oil","item":"crank"}`)
	assert.Equal(t, 2.0, *fold(t, w.events).Timers[0].Seconds)
}

func TestSealFixesItsSet(t *testing.T) {
	w := opened("read-and-do")
	w.mark("brakes")
	w.add(lesson.KindEnded, `{}`)
	l := lesson.New(book())
	l.Add(w.events...)
	seal, err := json.Marshal(l.Seal("i", "result"))
	require.NoError(t, err)
	before := l.State()
	w.add(lesson.KindSealed, string(seal))
	w.add(lesson.KindOmitted, `{"item":"brakes"}`)
	w.add(lesson.KindUndo, fmt.Sprintf(`{"targets":[%q]}`, w.events[1].ID))
	w.add(lesson.KindAddendum, `{"words":"brakes were spongy"}`)
	after := fold(t, w.events)
	assert.Equal(t, before.Items, after.Items, "nothing sealed ever changes")
	require.Len(t, after.Addenda, 3)
	assert.Equal(t, "brakes were spongy", after.Addenda[2].Words)
	assert.False(t, after.Addenda[2].Signed)

	l = lesson.New(book())
	l.Add(w.events...)
	again, err := json.Marshal(l.Seal("i", "result"))
	require.NoError(t, err)
	w.add(lesson.KindSealed, string(again))
	after = fold(t, w.events)
	assert.Len(t, after.Seals, 2)
	assert.True(t, after.Addenda[2].Signed)
	assert.Equal(t, before.Items, after.Items)
}

func TestSameIdWithAnotherContentIsRefusedAndShown(t *testing.T) {
	w := opened("read-and-do")
	w.mark("brakes")
	other := w.events[1]
	other.Payload = json.RawMessage(`{"item":"beacon","result":"done"}`)
	for _, events := range [][]lesson.Event{{w.events[0], w.events[1], other}, {other, w.events[0], w.events[1]}} {
		l := lesson.New(book())
		answers := l.Add(events...)
		assert.Equal(t, "refused", answers[2].Status)
		s := l.State()
		assert.Equal(t, "beacon=4", levels(s))
		require.Len(t, s.Refused, 1)
	}
	same := w.events[1]
	same.Payload = json.RawMessage(`{ "result":"done", "item":"brakes" }`)
	l := lesson.New(book())
	assert.Equal(t, "known", l.Add(w.events[1], same)[1].Status, "the order of keys is not content")
}

func TestEventsThatCannotBeKept(t *testing.T) {
	for _, c := range []struct{ kind, payload, want string }{
		{lesson.KindItemResult, `{"result":"done"}`, "payload.item must have"},
		{lesson.KindItemResult, `{"item":"a","result":"fine"}`, "payload.result must be done or wrong"},
		{lesson.KindItemResult, `{"item":7,"result":"done"}`, "payload.item must be a string, not a number"},
		{lesson.KindItemResult, `{`, "payload is not valid JSON"},
		{lesson.KindError, `{"code":"sloppy","severity":"slip"}`, `payload.code "sloppy" is no kind of error`},
		{lesson.KindError, `{"code":"eyes-inside","severity":"bad"}`, "payload.severity must be"},
		{lesson.KindReading, `{"check":"magnito","reading":{}}`, `payload.check "magnito" is no check`},
		{lesson.KindDecision, `{"about":"x","decision":"fly"}`, "payload.decision must be one of"},
		{lesson.KindOverride, `{"item":"a","level":5,"reason":"r"}`, "payload.level must be 0 to 4"},
		{lesson.KindOverride, `{"item":"a","level":3,"reason":" "}`, "payload.reason must say why"},
		{lesson.KindHourMeter, `{"meter":"hour","when":"start","value":-1}`, "payload.value must be"},
		{lesson.KindNote, `{"words":"a\u0000b"}`, "may not hold the character NUL"},
		{lesson.KindUndo, `{"targets":[]}`, "payload.targets must name"},
		{lesson.KindFinding, `{"words":""}`, "payload.words must say"},
		{
			lesson.KindOpened,
			`{"student":"s","instructor":"i","aircraft":"a","aircraftType":"t","typeVersion":1,"list":"l","listVersion":1,"method":"guess","scale":"five","purpose":"training"}`,
			"payload.method must be one of",
		},
		{
			lesson.KindOpened,
			`{"student":"s","instructor":"i","aircraft":"a","aircraftType":"t","typeVersion":1,"list":"l","listVersion":1,"method":"read-and-do","scale":"five","purpose":"training","conditions":{"oatC":"warm"}}`,
			"conditions.oatC must be a number",
		},
		{lesson.KindNote, `{"words":"` + strings.Repeat("x", lesson.MaxPayload) + `"}`, "payload must be at most"},
	} {
		w := &tape{device: "tablet"}
		w.add(c.kind, c.payload)
		a := lesson.New(book()).Add(w.events...)[0]
		assert.Equal(t, "refused", a.Status, c.payload)
		assert.Contains(t, a.Reason, c.want)
	}
	w := &tape{device: "tablet"}
	w.add("from-the-future", `{"anything":1}`)
	w.events[0].Payload = json.RawMessage(`{"anything":1}`)
	l := lesson.New(book())
	assert.Equal(t, "held", l.Add(w.events...)[0].Status)
	assert.Equal(t, 1, l.State().Unknown)
	w.events[0].ID = "not-an-id"
	assert.Contains(t, l.Add(w.events...)[0].Reason, "id must be a UUID")
}

// TestAnyArrivalFoldsTheSame: two devices, undos, conflicting marks, a seal;
// shuffled, repeated and split into batches they give one state.
func TestAnyArrivalFoldsTheSame(t *testing.T) {
	items := []string{"brakes", "beacon", "clear", "crank", "power", "idle", "decision", "unknown"}
	rapid.Check(t, func(t *rapid.T) {
		devices := []*tape{opened(rapid.SampledFrom(lesson.Methods).Draw(t, "method")), {device: "desk"}}
		n := rapid.IntRange(0, 40).Draw(t, "events")
		var all []string
		for range n {
			w := rapid.SampledFrom(devices).Draw(t, "device")
			item := rapid.SampledFrom(items).Draw(t, "item")
			kind := rapid.SampledFrom([]string{lesson.KindItemResult, lesson.KindItemResult, lesson.KindPrompt,
				lesson.KindOmitted,
				lesson.KindNotApplicable, lesson.KindLate, lesson.KindUndo, lesson.KindReading, lesson.KindOverride,
				lesson.KindTimerStarted,
				lesson.KindTimerStopped, lesson.KindSealed, "from-the-future"}).Draw(t, "kind")
			payload := fmt.Sprintf(`{"item":%q}`, item)
			switch kind {
			case lesson.KindItemResult:
				payload = fmt.Sprintf(`{"item":%q,"result":%q,"implied":%v}`, item,
					rapid.SampledFrom([]string{"done", "wrong"}).Draw(t, "result"), rapid.Bool().Draw(t, "implied"))
			case lesson.KindReading:
				payload = fmt.Sprintf(`{"item":%q,"check":"idle","reading":{"rpm":%d,"seconds":6,"stopped":false}}`,
					item, rapid.IntRange(500, 800).Draw(t, "rpm"))
			case lesson.KindOverride:
				payload = fmt.Sprintf(`{"item":%q,"level":%d,"reason":"r"}`, item,
					rapid.IntRange(0, 4).Draw(t, "level"))
			case lesson.KindTimerStarted, lesson.KindTimerStopped:
				payload = fmt.Sprintf(`{"timer":"t","item":%q}`, item)
			case lesson.KindUndo:
				if len(all) == 0 {
					continue
				}
				payload = fmt.Sprintf(`{"targets":[%q]}`, rapid.SampledFrom(all).Draw(t, "target"))
			case lesson.KindSealed:
				if len(all) == 0 {
					continue
				}
				ids := slices.Clone(all)
				slices.Sort(ids)
				seal, _ := json.Marshal(lesson.Sealed{Events: ids, Hash: lesson.SetHash(ids), SignedBy: "i"})
				payload = string(seal)
			}
			all = append(all, w.add(kind, payload))
		}
		events := append(slices.Clone(devices[0].events), devices[1].events...)
		want, err := json.Marshal(fold(t, events))
		require.NoError(t, err)

		shuffled := append(slices.Clone(events), events[:len(events)/2]...)
		seed := rapid.Uint64().Draw(t, "seed")
		rand.New(rand.NewPCG(seed, 1)).Shuffle(len(shuffled),
			func(i, j int) { shuffled[i], shuffled[j] = shuffled[j], shuffled[i] })
		l := lesson.New(book())
		for len(shuffled) > 0 {
			batch := min(len(shuffled), 1+int(seed%7))
			l.Add(shuffled[:batch]...)
			l.State() // looking in between changes nothing
			shuffled = shuffled[batch:]
		}
		got, err := json.Marshal(l.State())
		require.NoError(t, err)
		require.Equal(t, string(want), string(got))
	})
}

func FuzzEvent(f *testing.F) {
	for _, e := range opened("read-and-do").events {
		data, _ := json.Marshal(e)
		f.Add(data)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		var e lesson.Event
		if json.Unmarshal(data, &e) != nil {
			return
		}
		l := lesson.New(book())
		var status string
		parsertest.Run(t, data, func() { status = l.Add(e)[0].Status })
		if status == "held" {
			require.Equal(t, "known", l.Add(e)[0].Status)
			_, err := json.Marshal(l.State())
			require.NoError(t, err)
		}
	})
}

func BenchmarkFold(b *testing.B) {
	w := opened("read-and-do")
	for range 40 {
		for _, item := range []string{"brakes", "beacon", "clear", "crank", "power"} {
			w.mark(item)
		}
	}
	l := lesson.New(book())
	l.Add(w.events...)
	b.ResetTimer()
	for range b.N {
		l.State()
	}
	b.ReportMetric(float64(len(w.events))*float64(b.N)/b.Elapsed().Seconds(), "events/s")
}
