//go:build js && wasm && !lesson

package main

import (
	"context"
	"errors"

	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/practice"
	"jetprimer/core/stand"
)

// stage is the practice that runs in the page: the session, and the deeds of a run that
// are still to come where the stand shows or follows one.
var stage struct {
	course practice.Course
	// begun is the run as it began: where the stand showed the way to its first item, with
	// what it showed.
	begun   practice.Run
	session *practice.Session
	script  []practice.Deed
}

var errNoStand = errors.New("no stand has been begun")

// onStand is a function of a stand that has been begun.
func onStand(fn func(args []string) (any, error)) func([]string) (any, error) {
	return func(args []string) (any, error) {
		if stage.session == nil {
			return nil, errNoStand
		}
		return fn(args)
	}
}

// standBegin takes a course and what the run is, and answers the panel and the rows of
// the list. A run that is shown is worked out here, and played.
func standBegin(args []string) (any, error) {
	var course practice.Course
	var run practice.Run
	if err := read(args, &course, &run); err != nil {
		return nil, err
	}
	s, err := course.Begin(run)
	if err != nil {
		return nil, err
	}
	stage.course, stage.script = course, nil
	if run.Mode == practice.Shown {
		shown, err := course.Show(run.Scenario, run.Seed, run.Student, run.Began, "")
		if err != nil {
			return nil, err
		}
		stage.script = shown.Deeds
	} else if err := s.LeadIn(); err != nil {
		return nil, err
	}
	stage.session, stage.begun = s, s.Run()
	return struct {
		Panel stand.Panel  `json:"panel"`
		Rows  []lesson.Row `json:"rows"`
		practice.Seen
	}{s.Machine.Panel(), s.Lesson.Rows(), s.Seen()}, nil
}

// standMake makes up a scenario of a course for a difficulty.
func standMake(args []string) (any, error) {
	var kit stand.Kit
	var difficulty int
	var seed uint64
	if err := read(args, &kit, &difficulty, &seed); err != nil {
		return nil, err
	}
	return kit.Generate(min(max(difficulty, 1), 5), seed), nil
}

// standDo does a deed now.
func standDo(args []string) (any, error) {
	var d practice.Deed
	if err := read(args, &d); err != nil {
		return nil, err
	}
	return nil, stage.session.Do(d)
}

// standFeed takes deeds that somebody else has done, to be done at their ticks.
func standFeed(args []string) (any, error) {
	var deeds []practice.Deed
	if err := read(args, &deeds); err != nil {
		return nil, err
	}
	stage.script = append(stage.script, deeds...)
	return nil, nil
}

// standStep goes on by so many ticks and answers what is seen.
func standStep(args []string) (any, error) {
	var ticks int
	if err := read(args, &ticks); err != nil {
		return nil, err
	}
	m := stage.session.Machine
	for range min(ticks, stand.MaxSeconds*stand.TicksASecond-m.Tick()) {
		if err := plays(); err != nil {
			return nil, err
		}
		stage.session.Step()
	}
	return stage.session.Seen(), plays()
}

// plays does what of the script is due.
func plays() error {
	for len(stage.script) > 0 && stage.script[0].Tick <= stage.session.Machine.Tick() {
		if err := stage.session.Do(stage.script[0]); err != nil {
			return err
		}
		stage.script = stage.script[1:]
	}
	return nil
}

// standBack goes back to a second: everything that was done later is as if it had not
// been, but what the stand itself shows is shown again.
func standBack(args []string) (any, error) {
	var second float64
	if err := read(args, &second); err != nil {
		return nil, err
	}
	whole := stage.session.Run()
	run := whole.Until(max(int(second*stand.TicksASecond), stage.begun.Ticks))
	s, err := stage.course.Replay(context.Background(), run, nil)
	if err != nil {
		return nil, err
	}
	if whole.Mode == practice.Shown {
		stage.script = append(whole.Deeds[len(run.Deeds):], stage.script...)
	}
	stage.session = s
	return stage.session.Seen(), nil
}

// standNext answers what is to be done next, and how the lesson stands.
func standNext(args []string) (any, error) {
	return struct {
		practice.Guide
		State lesson.State `json:"state"`
	}{stage.session.Next(), stage.session.Told()}, read(args)
}

// standPanel answers the instrument of an item, with a draft or as it stands.
func standPanel(args []string) (any, error) {
	var item string
	var draft form.Draft
	if err := read(args, &item, &draft); err != nil {
		return nil, err
	}
	return stage.session.Panel(item, draft)
}

// standRead answers what a box of an item shows on its gauge now.
func standRead(args []string) (any, error) {
	var item, path, unit string
	if err := read(args, &item, &path, &unit); err != nil {
		return nil, err
	}
	return stage.session.Read(item, path, unit), nil
}

// standDecide ends the practice, and answers its run and what it came to.
func standDecide(args []string) (any, error) {
	var decision, why string
	if err := read(args, &decision, &why); err != nil {
		return nil, err
	}
	if err := stage.session.Decide(decision, why); err != nil {
		return nil, err
	}
	return ended()
}

func ended() (any, error) {
	score, err := stage.session.Score(context.Background())
	if err != nil {
		return nil, err
	}
	return struct {
		Run    practice.Run   `json:"run"`
		Score  practice.Score `json:"score"`
		Digest string         `json:"digest"`
	}{stage.session.Run(), score, score.Digest()}, nil
}

// standRun answers the run so far: its deeds from a place on.
func standRun(args []string) (any, error) {
	var from int
	if err := read(args, &from); err != nil {
		return nil, err
	}
	run := stage.session.Run()
	run.Deeds = run.Deeds[min(max(from, 0), len(run.Deeds)):]
	return run, nil
}

// standTrace runs a run and answers what its instruments showed each second.
func standTrace(args []string) (any, error) {
	var course practice.Course
	var run practice.Run
	if err := read(args, &course, &run); err != nil {
		return nil, err
	}
	return course.Trace(run)
}

// standWatch takes a run and opens the stand at a second of it, to be looked at.
func standWatch(args []string) (any, error) {
	var course practice.Course
	var run practice.Run
	var second float64
	if err := read(args, &course, &run, &second); err != nil {
		return nil, err
	}
	part := run.Until(int(second * stand.TicksASecond))
	s, err := course.Replay(context.Background(), part, nil)
	if err != nil {
		return nil, err
	}
	stage.course, stage.session, stage.begun, stage.script = course, s, run.Until(0), run.Deeds[len(part.Deeds):]
	return stage.session.Seen(), nil
}
