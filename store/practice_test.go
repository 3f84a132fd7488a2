package store_test

import (
	"bytes"
	"context"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/access"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
	"jetprimer/demo/schooltest"
	"jetprimer/store"
)

// practised is a scenario as a good student works it, with its session and score.
func practised(t *testing.T, s *small, seconds int) (practice.Run, *practice.Session, practice.Score) {
	t.Helper()
	c, known := s.Catalog.Course("alder-110")
	require.True(t, known)
	shown, err := c.Show(c.Scenarios[0], 1, s.student, "2026-11-24T08:00:00Z", "")
	require.NoError(t, err)
	run := shown.Until(seconds * stand.TicksASecond)
	run.Mode, run.Decision = practice.Alone, stand.Normal
	for _, d := range run.Deeds {
		if d.Call != nil && d.Call.Name == "shown" {
			d.Call.Name = "done"
		}
	}
	session, err := c.Replay(context.Background(), run, nil)
	require.NoError(t, err)
	score, err := session.Score(context.Background())
	require.NoError(t, err)
	return run, session, score
}

// TestAPracticeIsKeptOnce: with its run as it was, for its school and nobody else; sent
// again it changes nothing, and another one under its id is refused.
func TestAPracticeIsKeptOnce(t *testing.T) {
	s := smallSchool(t)
	run, session, score := practised(t, s, 500)
	id := uuid.NewString()
	keep := func(run practice.Run, score practice.Score) error {
		return s.in(func(tx *store.Tx) error { return tx.KeepPractice(id, run, score, session, at(0)) })
	}
	require.NoError(t, keep(run, score))
	require.NoError(t, keep(run, score))
	less, _, other := practised(t, s, 100)
	assert.ErrorIs(t, keep(less, other), store.ErrOtherPractice)
	require.NoError(t, s.in(func(tx *store.Tx) error {
		all, err := tx.PracticeRuns(s.student, 10)
		require.NoError(t, err)
		require.Len(t, all, 1)
		assert.Equal(t, []any{id, "Some student", "alone", 500, 4, true},
			[]any{all[0].ID, all[0].Student, all[0].Mode, all[0].Seconds, *all[0].Level, all[0].Answered})
		none, err := tx.PracticeRuns(s.chief, 10)
		require.NoError(t, err)
		assert.Empty(t, none)
		kept, told, err := tx.Practice(id)
		require.NoError(t, err)
		assert.Equal(t, run, kept)
		assert.Equal(t, score.Digest(), told.Digest(), "the score is kept as it was told")
		_, _, err = tx.Practice(uuid.NewString())
		assert.ErrorIs(t, err, store.ErrNotFound)
		held, err := tx.PersonalData(s.student, at(0))
		require.NoError(t, err)
		assert.Len(t, held.Practice, 1)
		return nil
	}))
	elsewhere := uuid.NewString()
	require.NoError(t,
		s.Store.AddSchool(context.Background(), store.School{
			ID: elsewhere, Name: "Elsewhere", TimeZone: "UTC", CreatedAt: at(-3),
		}, nil))
	require.NoError(t, s.Store.In(context.Background(), elsewhere, func(_ context.Context, tx *store.Tx) error {
		all, err := tx.PracticeRuns("", 10)
		require.NoError(t, err)
		assert.Empty(t, all)
		_, _, err = tx.Practice(id)
		assert.ErrorIs(t, err, store.ErrNotFound)
		return nil
	}))
}

// TestPracticeIsNoLesson: what was practised is tried again for what is to be repeated,
// from its day on; it is in no list of lessons and in no standing.
func TestPracticeIsNoLesson(t *testing.T) {
	s := smallSchool(t)
	run, session, score := practised(t, s, 500)
	tried := func(day string) (n int) {
		require.NoError(t, s.in(func(tx *store.Tx) error {
			all, err := tx.Tried(s.student, day)
			n = len(all)
			for i := 1; i < len(all); i++ {
				assert.LessOrEqual(t, all[i-1].Date, all[i].Date, "oldest first")
			}
			return err
		}))
		return n
	}
	seen := func() (lessons, standings int) {
		require.NoError(t, s.in(func(tx *store.Tx) error {
			all, err := tx.Lessons(s.student, time.Time{}, time.Time{})
			require.NoError(t, err)
			stood, err := tx.Standings(s.student)
			lessons, standings = len(all), len(stood)
			return err
		}))
		return lessons, standings
	}
	before, yesterday := tried(on(1)), tried(on(0)) // in the school it is tomorrow already
	lessons, standings := seen()
	require.NoError(t, s.in(func(tx *store.Tx) error {
		return tx.KeepPractice(uuid.NewString(), run, score, session, at(0))
	}))
	assert.Equal(t, before+score.Right, tried(on(1)))
	assert.Equal(t, yesterday, tried(on(0)), "a past day knows nothing of it")
	after, stood := seen()
	assert.Equal(t, []int{lessons, standings}, []int{after, stood})
}

// TestScenariosOfASchool: they are kept under their ids, the newest in the place of the one
// before, by their type, and go with the school when it moves.
func TestScenariosOfASchool(t *testing.T) {
	s := smallSchool(t)
	one := stand.Scenario{ID: "frost", Title: "Frost", Type: "alder-110", Goal: "Start.", Difficulty: 3,
		Day:    stand.StandardDay,
		Faults: []stand.Slipped{{Fault: "left-plug-dead", Severity: 1, Engine: 1}}, Outside: []stand.Passer{
			{What: stand.SomebodyNear, From: 3, For: 9},
		}}
	keep := func(of stand.Scenario) {
		require.NoError(t, s.in(func(tx *store.Tx) error { return tx.KeepScenario(of, s.chief, at(0)) }))
	}
	keep(one)
	one.Title = "Frost, again"
	keep(one)
	other := one
	other.ID, other.Type = "other", "willow-t5"
	keep(other)
	run, session, score := practised(t, s, 60)
	require.NoError(t, s.in(func(tx *store.Tx) error {
		return tx.KeepPractice(uuid.NewString(), run, score, session, at(0))
	}))
	require.NoError(t, s.in(func(tx *store.Tx) error {
		all, err := tx.Scenarios("alder-110")
		assert.Equal(t, []stand.Scenario{one}, all)
		found, oops := tx.Scenario("other")
		assert.Equal(t, other, found)
		require.NoError(t, oops)
		_, oops = tx.Scenario("lost")
		assert.ErrorIs(t, oops, store.ErrNotFound)
		assert.ErrorIs(t, tx.DropScenario("lost"), store.ErrNotFound)
		return err
	}))
	moved := keptUnder(t, schooltest.New(t), "another secret altogether")
	file := out(t, s.Store, s.id, moveKey)
	require.NoError(t, into(moved, file, moveKey))
	assert.True(t, bytes.Equal(file, out(t, moved, s.id, moveKey)))
	require.NoError(t, moved.In(context.Background(), s.id, func(_ context.Context, tx *store.Tx) error {
		all, err := tx.Scenarios("alder-110")
		require.NoError(t, err)
		assert.Equal(t, []stand.Scenario{one}, all)
		runs, err := tx.PracticeRuns(s.student, 10)
		require.NoError(t, err)
		require.Len(t, runs, 1)
		kept, _, err := tx.Practice(runs[0].ID)
		assert.Equal(t, run, kept)
		return err
	}))
	require.NoError(t, s.in(func(tx *store.Tx) error { return tx.DropScenario("frost") }))
	require.NoError(t, s.in(func(tx *store.Tx) error {
		all, err := tx.Scenarios("alder-110")
		assert.Empty(t, all)
		return err
	}))
}

// TestPracticeGoesWithTheName: when a name is erased nothing is left of what was practised.
func TestPracticeGoesWithTheName(t *testing.T) {
	s := smallSchool(t)
	leaver := uuid.NewString()
	require.NoError(t,
		s.Store.AddAccount(context.Background(), store.Account{
			ID: leaver, Email: "leaver@small.example", Name: "Some leaver", Password: "x",
		}))
	require.NoError(t, s.in(func(tx *store.Tx) error { return tx.Join(leaver, access.Student) }))
	run, session, score := practised(t, s, 60)
	run.Student = leaver
	require.NoError(t, s.in(func(tx *store.Tx) error {
		return tx.KeepPractice(uuid.NewString(), run, score, session, at(0))
	}))
	require.NoError(t, s.in(func(tx *store.Tx) error {
		m, err := tx.Member(leaver)
		require.NoError(t, err)
		return tx.SetMember(leaver, access.Member{Name: m.Name, Email: m.Email, Roles: m.Roles}, false, on(0))
	}))
	require.NoError(t, s.in(func(tx *store.Tx) error { return tx.Erase(leaver, "Some leaver", at(0)) }))
	require.NoError(t, s.in(func(tx *store.Tx) error {
		all, err := tx.PracticeRuns("", 10)
		assert.Empty(t, all)
		return err
	}))
}

// TestALessonOnTheStandIsPractice: a signed lesson that was worked on the stand or in
// another simulator is shown, and counts toward standing only where the school says so.
func TestALessonOnTheStandIsPractice(t *testing.T) {
	for _, place := range lesson.Practices {
		t.Run(place, func(t *testing.T) {
			t.Parallel()
			s := smallSchool(t)
			counted := func(counts bool) (n int) {
				require.NoError(t, s.in(func(tx *store.Tx) error {
					student, err := tx.Student(s.student)
					require.NoError(t, err)
					p := s.Catalog.Policy
					p.PracticeCounts = counts
					c, _, err := tx.Case(student, p, nil, "9999-12-31")
					for _, f := range c.Facts {
						n += f.Lessons
					}
					return err
				}))
				return n
			}
			before := counted(true)
			id := s.fly(-1, event(2, lesson.KindPractice, `{"place":"`+place+`"}`),
				event(3, lesson.KindItemResult, `{"item":"papers","result":"done"}`), event(4, lesson.KindEnded, `{}`))
			s.sign(id, -1)
			assert.Greater(t, counted(true), before)
			if place == "aircraft" {
				assert.Equal(t, counted(true), counted(false))
			} else {
				assert.Equal(t, before, counted(false))
			}
			require.NoError(t, s.in(func(tx *store.Tx) error {
				all, err := tx.Lessons(s.student, time.Time{}, time.Time{})
				assert.Equal(t, id, all[1].ID, "it is among the lessons")
				return err
			}))
		})
	}
}

// TestOnePracticeSentTwiceAtOnce: two devices that send the same one at the same moment
// leave one, and both are told that it is kept.
func TestOnePracticeSentTwiceAtOnce(t *testing.T) {
	s := smallSchool(t)
	run, session, score := practised(t, s, 60)
	id := uuid.NewString()
	said := make(chan error, 4)
	for range cap(said) {
		go func() {
			said <- s.in(func(tx *store.Tx) error { return tx.KeepPractice(id, run, score, session, at(0)) })
		}()
	}
	for range cap(said) {
		assert.NoError(t, <-said)
	}
	require.NoError(t, s.in(func(tx *store.Tx) error {
		all, err := tx.PracticeRuns(s.student, 10)
		assert.Len(t, all, 1)
		return err
	}))
}
