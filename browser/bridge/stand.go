//go:build !lesson

package bridge

import (
	"context"
	"errors"

	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
)

// stage is the practice that runs in the page: the session, and the deeds of a run that are
// still to come where the stand shows or follows one.
type stage struct {
	course practice.Course
	// begun is the run as it began: where the stand showed the way to its first item, with
	// what it showed.
	begun   practice.Run
	session *practice.Session
	script  []practice.Deed
}

var errNoStand = errors.New("no stand has been begun")

// practice is the stage of a stand that has been begun.
func (b *Bridge) practice() (*stage, error) {
	if at, ok := b.stage.(*stage); ok {
		return at, nil
	}
	return nil, errNoStand
}

// StandBegun is a practice at its beginning: the panel, the rows of its list, what is seen.
type StandBegun struct {
	Panel stand.Panel  `json:"panel"`
	Rows  []lesson.Row `json:"rows"`
	practice.Seen
}

// standBegin begins a run. One that is shown is worked out here, and played.
func (b *Bridge) standBegin(course practice.Course, run practice.Run) (StandBegun, error) {
	s, err := course.Begin(run)
	if err != nil {
		return StandBegun{}, err
	}
	at := &stage{course: course}
	if run.Mode == practice.Shown {
		shown, err := course.Show(run.Scenario, run.Seed, run.Student, run.Began, "")
		if err != nil {
			return StandBegun{}, err
		}
		at.script = shown.Deeds
	} else if err := s.LeadIn(); err != nil {
		return StandBegun{}, err
	}
	at.session, at.begun = s, s.Run()
	b.stage = at
	return StandBegun{s.Machine.Panel(), s.Lesson.Rows(), s.Seen()}, nil
}

func (b *Bridge) standMake(course practice.Course, difficulty int, seed uint64) stand.Scenario {
	return course.Generate(min(max(difficulty, 1), 5), seed)
}

func (b *Bridge) standDo(d practice.Deed) error {
	at, err := b.practice()
	if err != nil {
		return err
	}
	return at.session.Do(d)
}

func (b *Bridge) standLook(gauge int) error {
	at, err := b.practice()
	if err != nil {
		return err
	}
	return at.session.Look(gauge)
}

func (b *Bridge) standFeed(deeds []practice.Deed) error {
	at, err := b.practice()
	if err != nil {
		return err
	}
	at.script = append(at.script, deeds...)
	return nil
}

func (b *Bridge) standStep(ticks int) (practice.Seen, error) {
	at, err := b.practice()
	if err != nil {
		return practice.Seen{}, err
	}
	for range min(ticks, stand.MaxSeconds*stand.TicksASecond-at.session.Machine.Tick()) {
		if err := at.play(); err != nil {
			return practice.Seen{}, err
		}
		at.session.Step()
	}
	return at.session.Seen(), at.play()
}

// play does what of the script is due.
func (at *stage) play() error {
	for len(at.script) > 0 && at.script[0].Tick <= at.session.Machine.Tick() {
		if err := at.session.Do(at.script[0]); err != nil {
			return err
		}
		at.script = at.script[1:]
	}
	return nil
}

// standBack goes back to a second. What the stand itself shows is shown again.
func (b *Bridge) standBack(second float64) (practice.Seen, error) {
	at, err := b.practice()
	if err != nil {
		return practice.Seen{}, err
	}
	whole := at.session.Run()
	run := whole.Until(max(int(second*stand.TicksASecond), at.begun.Ticks))
	s, err := at.course.Replay(context.Background(), run, nil)
	if err != nil {
		return practice.Seen{}, err
	}
	if whole.Mode == practice.Shown {
		at.script = append(whole.Deeds[len(run.Deeds):], at.script...)
	}
	at.session = s
	return s.Seen(), nil
}

// StandGuide is what is to be done next, with the state of the lesson.
type StandGuide struct {
	practice.Guide
	State lesson.State `json:"state"`
}

func (b *Bridge) standNext() (StandGuide, error) {
	at, err := b.practice()
	if err != nil {
		return StandGuide{}, err
	}
	return StandGuide{at.session.Next(), at.session.Told()}, nil
}

func (b *Bridge) standPanel(item string, draft form.Draft) (lesson.Panel, error) {
	at, err := b.practice()
	if err != nil {
		return lesson.Panel{}, err
	}
	return at.session.Panel(item, draft)
}

func (b *Bridge) standRead(item, path, unit string) (string, error) {
	at, err := b.practice()
	if err != nil {
		return "", err
	}
	return at.session.Read(item, path, unit), nil
}

// StandEnded is a run that was decided, with what it came to.
type StandEnded struct {
	Run    practice.Run   `json:"run"`
	Score  practice.Score `json:"score"`
	Digest string         `json:"digest"`
}

func (b *Bridge) standDecide(decision, why string) (StandEnded, error) {
	at, err := b.practice()
	if err != nil {
		return StandEnded{}, err
	}
	if err := at.session.Decide(decision, why); err != nil {
		return StandEnded{}, err
	}
	score, err := at.session.Score(context.Background())
	if err != nil {
		return StandEnded{}, err
	}
	return StandEnded{at.session.Run(), score, score.Digest()}, nil
}

func (b *Bridge) standRun(from int) (practice.Run, error) {
	at, err := b.practice()
	if err != nil {
		return practice.Run{}, err
	}
	run := at.session.Run()
	run.Deeds = run.Deeds[min(max(from, 0), len(run.Deeds)):]
	return run, nil
}

func (b *Bridge) standTrace(course practice.Course, run practice.Run) ([][]string, error) {
	return course.Trace(run)
}

func (b *Bridge) standTraceSound(course practice.Course, run practice.Run) ([][]string, error) {
	return course.Trace(run.WithoutFaults())
}

func (b *Bridge) standWatch(course practice.Course, run practice.Run, second float64) (practice.Seen, error) {
	part := run.Until(int(second * stand.TicksASecond))
	s, err := course.Replay(context.Background(), part, nil)
	if err != nil {
		return practice.Seen{}, err
	}
	b.stage = &stage{course, run.Until(0), s, run.Deeds[len(part.Deeds):]}
	return s.Seen(), nil
}
