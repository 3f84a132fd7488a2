package server_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
	"jetprimer/demo"
	"jetprimer/reports"
	"jetprimer/server"
	"jetprimer/server/practices"
	"jetprimer/store"
)

// practised is a scenario as a good student works it in the mode of a run, up to a tick,
// with the digest of its score and the path that it is kept under.
type practised struct {
	course practice.Course
	run    practice.Run
	path   string
}

func practises(t *testing.T, c *client, who demo.Person, typ, scenario string, ticks int) practised {
	t.Helper()
	return practisesBy(t, c, who, typ, scenario, ticks, 4)
}

// practisesBy is practises with a seed: other seeds are other hands.
func practisesBy(t *testing.T, c *client, who demo.Person, typ, scenario string, ticks int, seed uint64) practised {
	t.Helper()
	p := practised{
		course: got[practice.Course](t, c, "GET", "/api/v1/stands/"+typ, ""),
		path:   "/api/v1/practice/" + uuid.NewString(),
	}
	i := slices.IndexFunc(p.course.Scenarios, func(s stand.Scenario) bool { return s.ID == scenario })
	require.GreaterOrEqual(t, i, 0)
	run, err := p.course.Show(p.course.Scenarios[i], seed, who.ID, "2026-11-24T08:00:00Z", "")
	require.NoError(t, err)
	p.run = run.Until(ticks)
	p.run.Mode, p.run.Decision = practice.Alone, "grounded"
	p.run.List, p.run.ListVersion = p.course.List.ID, p.course.List.Version
	for _, d := range p.run.Deeds {
		if d.Call != nil && d.Call.Name == "shown" {
			d.Call.Name = "done"
		}
	}
	return p
}

// body is what is sent to keep it.
func (p practised) body(t *testing.T) string {
	t.Helper()
	s, err := p.course.Replay(context.Background(), p.run, nil)
	require.NoError(t, err)
	score, err := s.Score(context.Background())
	require.NoError(t, err)
	text, err := json.Marshal(map[string]any{"run": p.run, "digest": score.Digest()})
	require.NoError(t, err)
	return string(text)
}

// begins tells the school that it goes on, up to some of its deeds.
func (p practised) begins(t *testing.T, c *client, deeds int) {
	t.Helper()
	head := p.run
	head.Deeds, head.Decision = []practice.Deed{}, ""
	got[practices.LiveAnswer](t, c, "POST", strings.Replace(p.path, "/practice/", "/practice-live/", 1),
		body(t, practices.LiveStep{Run: head, Deeds: p.run.Deeds[:deeds], Tick: p.run.Ticks}))
}

// TestAPracticeIsRunAgain: the server takes the deeds of a run and nothing else, keeps the
// score that it gets itself, refuses one that was changed, and shows it to those who may
// see it.
func TestAPracticeIsRunAgain(t *testing.T) {
	url, _, clock := startAt(t, nil)
	student, other, instructor := as(t, url, demo.Brandt), as(t, url, demo.Moreau), as(t, url, demo.Okonjo)
	require.Len(t, got[[]practices.StandType](t, student, "GET", "/api/v1/stands", ""), 7)
	p := practises(t, student, demo.Brandt, "alder-110", "live-propeller", 3000)
	body := p.body(t)
	for want, change := range map[string][2]string{
		"digest is not that": {`"value":1`, `"value":0`},
		"run.student":        {`"student":"` + demo.Brandt.ID, `"student":"` + demo.Moreau.ID},
		"run.decision":       {`"decision":"grounded"`, `"decision":"hope"`},
		"draft.": {
			`"deeds":[`, `"deeds":[{"tick":0,"call":{"name":"reading","item":"master-on"}},`,
		},
		"level is not chosen":      {`"deeds":[`, `"deeds":[{"tick":0,"call":{"name":"oral"}},`},
		"control":                  {`"control":"master"`, `"control":"parachute"`},
		"run.deeds[1].tick":        {`"deeds":[{"tick":`, `"deeds":[{"tick":99`},
		"scenario faults[0].fault": {`"left-magneto-ungrounded"`, `"bad-luck"`},
		"run.scenario.type":        {`"type":"alder-110"`, `"type":"glider"`},
		"run.list":                 {`"list":"` + p.run.List, `"list":"lunch`},
		"run.ticks":                {`"ticks":3000`, `"ticks":300000000`},
		"lies ahead of":            {`"began":"2026`, `"began":"2099`},
		"is more than 62 days ago": {`"began":"2026`, `"began":"1999`},
		"run.began must be a time": {`"began":"2026`, `"began":"soon`},
		"said at once": {
			`"deeds":[`, `"deeds":[{"tick":0,"call":{"name":"note","words":"` + strings.Repeat("w", 9000) + `"}},`,
		},
		"was not made by an instructor": {
			`"deeds":[`, `"deeds":[{"tick":0,"change":{"outside":{"what":"person","from":0,"for":1}}},`,
		},
	} {
		changed := strings.Replace(body, change[0], change[1], 1)
		require.NotEqual(t, body, changed, want)
		clock.pass(6 * time.Minute) // each that comes to nothing is a wrong guess
		status, answer := student.call("PUT", "/api/v1/practice/"+uuid.NewString(), changed)
		assert.Equal(t, 422, status, "%s: %s", want, answer)
		assert.Contains(t, answer, want)
	}
	kept := got[practices.PracticeView](t, student, "PUT", p.path, body)
	assert.True(t, kept.Practice.Answered)
	assert.Equal(t, 60, kept.Practice.Seconds)
	assert.NotNil(t, kept.Practice.Level)
	assert.Contains(t, kept.Score.Answer.Faults[0].Title, "magneto")
	again := got[practices.PracticeView](t, student, "PUT", p.path, body)
	assert.Equal(t, kept.Practice, again.Practice, "sent twice is kept once")

	shorter := p
	shorter.run = p.run.Until(2000)
	shorter.run.Decision = "grounded"
	status, answer := student.call("PUT", p.path, shorter.body(t))
	assert.Equal(t, 422, status)
	assert.Contains(t, answer, "is that of another practice")
	again = got[practices.PracticeView](t, student, "PUT", p.path, body)
	assert.Equal(t, kept.Practice, again.Practice)
	status, answer = student.call("PUT", "/api/v1/practice/"+uuid.NewString(),
		strings.Replace(body, `"began":"2026-11-24T08:00`, `"began":"2026-11-24T09:30`, 1))
	assert.Equal(t, 422, status, "the same hands at another time")
	assert.Contains(t, answer, "are those of a practice that is kept already")

	assert.Len(t, got[[]store.PracticeRun](t, student, "GET", "/api/v1/practice", ""), 1)
	assert.Empty(t, got[[]store.PracticeRun](t, other, "GET", "/api/v1/practice?person="+demo.Brandt.ID, ""),
		"a student reads no other's")
	assert.Equal(t, kept.Practice.ID,
		got[[]store.PracticeRun](t, instructor, "GET", "/api/v1/practice?person="+demo.Brandt.ID, "")[0].ID)
	read := got[practices.PracticeView](t, instructor, "GET", p.path, "")
	assert.Equal(t, kept.Score.Digest(), read.Score.Digest())
	assert.Equal(t, p.run.Deeds, read.Run.Deeds)
	status, _ = other.call("GET", p.path, "")
	assert.Equal(t, 404, status)
	status, _ = student.call("GET", "/api/v1/stands/glider", "")
	assert.Equal(t, 404, status)
}

// TestPracticeCountsAsTheSchoolSays: what was practised is known again for what is to be
// repeated, and shows in no standing; where the policy lets it count it does, and when it
// says so no longer it does not.
func TestPracticeCountsAsTheSchoolSays(t *testing.T) {
	url, _, clock := startAt(t, nil)
	student, chief := as(t, url, demo.Castell), as(t, url, demo.Ferreira)
	standing := func() string {
		v := got[reports.StudentView](t, chief, "GET", "/api/v1/students/"+demo.Castell.ID, "")
		text := ""
		for _, task := range v.Tasks {
			for _, e := range task.Elements {
				text += fmt.Sprintln(e.ID, e.Standing)
			}
		}
		return text
	}
	repeated := func() int {
		n := 0
		for _, p := range got[[]practice.Portion](t, student, "GET", "/api/v1/stands/alder-110/portions", "") {
			assert.LessOrEqual(t, p.Minutes, 10)
			n += len(p.Items)
		}
		return n
	}
	before, weak := standing(), repeated()
	require.Positive(t, weak)
	for i := range 3 {
		p := practisesBy(t, student, demo.Castell, "alder-110", "first-start", 30_000, uint64(4+i))
		p.run.Decision = stand.Normal
		p.begins(t, student, 0)
		clock.pass(10 * time.Minute)
		v := got[practices.PracticeView](t, student, "PUT", p.path, p.body(t))
		assert.Equal(t, 4, *v.Practice.Level)
	}
	assert.Equal(t, before, standing())
	assert.Less(t, repeated(), weak)
	document := ask[decided](chief, "GET", "/library/policy/policy/2", "", 200).Document
	for i, counts := range []bool{true, false} {
		document.Standing.PracticeCounts = counts
		draft := ask[decided](chief, "POST", "/library/policy", body(t, map[string]any{"document": document}), 200)
		require.Equal(t, 3+i, draft.Version.Version)
		step := func(c *client, name, more string) {
			ask[any](c, "POST", fmt.Sprintf("/library/policy/policy/%d/%s", 3+i, name), `{"revision":1`+more+`}`, 200)
		}
		step(as(t, url, demo.Okonjo), "review", "")
		step(chief, "approve", `,"from":"2026-11-24"`)
		if counts {
			assert.NotEqual(t, before, standing())
		} else {
			assert.Equal(t, before, standing())
		}
	}
}

// TestTheStation: what a student does on the stand reaches an instructor's device as it is
// done; what the instructor changes and marks reaches the stand, is part of the run, and
// cannot be left out of it.
func TestTheStation(t *testing.T) {
	url := start(t)
	student, other, instructor := as(t, url, demo.Brandt), as(t, url, demo.Moreau), as(t, url, demo.Okonjo)
	p := practises(t, student, demo.Brandt, "alder-110", "first-start", 4000)
	p.run.Mode = practice.Checkride
	id := strings.TrimPrefix(p.path, "/api/v1/practice/")
	live := "/api/v1/practice-live/" + id
	step := func(c *client, from, to, tick, known int) (int, practices.LiveAnswer) {
		head := p.run
		head.Deeds, head.Decision = []practice.Deed{}, ""
		text, err := json.Marshal(practices.LiveStep{
			Run: head, From: from, Deeds: append([]practice.Deed{}, p.run.Deeds[from:to]...), Tick: tick, Known: known,
		})
		require.NoError(t, err)
		status, body := c.call("POST", live, string(text))
		var answer practices.LiveAnswer
		if status == 200 {
			require.NoError(t, json.Unmarshal([]byte(body), &answer), body)
		}
		return status, answer
	}
	_, answer := step(student, 2, 3, p.run.Deeds[2].Tick, 0)
	assert.Zero(t, answer.At, "the server knows nothing of it yet: from the beginning, please")
	_, answer = step(student, 0, 3, p.run.Deeds[2].Tick, 0)
	assert.Equal(t, 3, answer.At)
	status, _ := step(other, 0, 3, p.run.Deeds[2].Tick, 0)
	assert.Equal(t, 404, status, "nobody plays for somebody else")
	runs := got[[]practices.LiveRun](t, instructor, "GET", "/api/v1/practice-live", "")
	require.Len(t, runs, 1)
	assert.Equal(t, "checkride", runs[0].Mode)

	ctx, cancel := context.WithTimeout(context.Background(), 30*time.Second)
	defer cancel()
	request, err := http.NewRequestWithContext(ctx, "GET", url+live+"/stream", nil)
	require.NoError(t, err)
	response, err := instructor.Do(request)
	require.NoError(t, err)
	defer response.Body.Close()
	lines := bufio.NewReader(response.Body)
	news := func() practices.LiveNews {
		t.Helper()
		for {
			line, err := lines.ReadString('\n')
			require.NoError(t, err)
			if text, is := strings.CutPrefix(line, "data: "); is {
				var n practices.LiveNews
				require.NoError(t, json.Unmarshal([]byte(text), &n))
				return n
			}
		}
	}
	first := news()
	require.NotNil(t, first.Run)
	assert.Len(t, first.Deeds, 3)
	assert.Equal(t, p.run.Scenario.ID, first.Run.Scenario.ID)

	wish := func(text string) int {
		status, _ := instructor.call("POST", live+"/wishes", text)
		return status
	}
	assert.Equal(t, 204, wish(`{"change":{"slip":{"fault":"left-magneto-ungrounded","severity":1,"engine":1}}}`))
	assert.Equal(t, 204, wish(`{"call":{"name":"note","item":"magnetos","words":"Watch the tachometer."}}`))
	assert.Equal(t, 204, wish(`{"freeze":true}`))
	for _, bad := range []string{`{}`, `{"change":{}}`, `{"call":{"name":"done"}}`,
		`{"change":{"weather":{"oatC":99,"dewPointC":1,"windKt":1}}}`,
		`{"change":{"slip":{"fault":"bad-luck","severity":1}}}`,
		`{"change":{"slip":{"fault":"unit-fails","severity":1}}}`,
		`{"change":{"slip":{"fault":"oil-gauge-low","severity":1,"engine":3}}}`,
		`{"change":{"outside":{"what":"bear","from":0,"for":3}}}`, `{"call":{"name":"prompted","item":"lunch"}}`,
		`{"call":{"name":"override","item":"magnetos"}}`} {
		assert.Equal(t, 422, wish(bad), bad)
	}
	status, _ = student.call("POST", live+"/wishes", `{"freeze":false}`)
	assert.Equal(t, 403, status)
	_, answer = step(student, 3, 5, p.run.Deeds[4].Tick, 0)
	require.Len(t, answer.Wishes, 2)
	assert.True(t, answer.Frozen)
	assert.Equal(t, 1, answer.Watched)
	for n := first; len(n.Deeds) != 2 || !n.Frozen; {
		n = news()
	}

	left := p
	status, body := student.call("PUT", p.path, left.body(t))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "do not hold all that the instructor did")
	at := p.run.Deeds[4].Tick
	p.run.Deeds = slices.Insert(slices.Clone(p.run.Deeds), 5, practice.Deed{Tick: at, Change: answer.Wishes[0].Change},
		practice.Deed{Tick: at, Call: answer.Wishes[1].Call})
	p.run.Decision = stand.Normal
	kept := got[practices.PracticeView](t, student, "PUT", p.path, p.body(t))
	assert.False(t, kept.Practice.Answered)
	assert.Equal(t, "grounded", kept.Score.Answer.Asked)
	assert.Equal(t, []string{"Watch the tachometer."}, words(kept.Score.State.Notes))
	for n := first; !n.Ended; {
		n = news()
	}
	assert.Empty(t, got[[]practices.LiveRun](t, instructor, "GET", "/api/v1/practice-live", ""))
	status, _ = instructor.call("GET", live+"/stream", "")
	assert.Equal(t, 404, status)
}

func words(notes []lesson.Note) (out []string) {
	for _, n := range notes {
		out = append(out, n.Words)
	}
	return out
}

// TestAnInstructorsMarksOutliveTheServer: what was done at the station is known to another
// server, however long the run was silent: the practice is kept with it there, and not without
// it, under its own id or another.
func TestAnInstructorsMarksOutliveTheServer(t *testing.T) {
	url, d, clock := startAt(t, nil)
	student, instructor := as(t, url, demo.Brandt), as(t, url, demo.Okonjo)
	p := practises(t, student, demo.Brandt, "alder-110", "first-start", 4000)
	p.run.Decision = stand.Normal
	p.begins(t, student, 3)
	live := strings.Replace(p.path, "/practice/", "/practice-live/", 1)
	got[any](t, instructor, "POST", live+"/wishes",
		`{"call":{"name":"note","item":"magnetos","words":"Look outside."}}`)
	clock.pass(3 * time.Hour)

	app, err := server.New(server.Options{Store: d.Store, Catalog: d.Catalog, Now: clock.time})
	require.NoError(t, err)
	t.Cleanup(app.Close)
	second := httptest.NewServer(app)
	t.Cleanup(second.Close)
	student.url, instructor.url = second.URL, second.URL
	status, said := student.call("PUT", p.path, p.body(t))
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "do not hold all that the instructor did: 0 of 1")
	status, said = student.call("PUT", "/api/v1/practice/"+uuid.NewString(), p.body(t))
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "keep it as "+strings.TrimPrefix(p.path, "/api/v1/practice/"))
	head := p.run
	head.Deeds, head.Decision = []practice.Deed{}, ""
	answer := got[practices.LiveAnswer](t, student, "POST", live,
		body(t, practices.LiveStep{Run: head, Deeds: p.run.Deeds[:3], Tick: p.run.Ticks}))
	require.Len(t, answer.Wishes, 1, "the stand is told again what was done to it")
	assert.Len(t, got[[]practices.LiveRun](t, instructor, "GET", "/api/v1/practice-live", ""), 1)
	p.run.Deeds = slices.Insert(slices.Clone(p.run.Deeds), 3, practice.Deed{
		Tick: p.run.Deeds[2].Tick, Call: answer.Wishes[0].Call,
	})
	kept := got[practices.PracticeView](t, student, "PUT", p.path, p.body(t))
	assert.Empty(t, kept.Practice.Uncounted, "where no practice counts nothing is said of it")
}
