package practice

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math"
	"slices"

	"jetprimer/core/check"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
	"jetprimer/core/recorder"
	"jetprimer/core/stand"
)

// Score is what came of a practice: the lesson as its events say, and what only a stand
// can know.
type Score struct {
	// Of is the SHA-256 of the run that it is the score of.
	Of    string       `json:"of"`
	State lesson.State `json:"state"`
	// Level is what the items show together, nil where none was worked; Right and Off
	// count those at the top level and the others.
	Level *int `json:"level"`
	Right int  `json:"right"`
	Off   int  `json:"off"`
	// Seconds is how long it went; Answer holds the decision to what was wrong.
	Seconds float64      `json:"seconds"`
	Answer  stand.Answer `json:"answer"`
	// Noticed are the faults, and whether and when they were.
	Noticed []Noticed `json:"noticed"`
	Looked  []Looked  `json:"looked"`
	// Beside is what a recorder would have measured beside what was said.
	Beside []BesideCheck `json:"beside"`
	Wear   stand.Wear    `json:"wear"`
	// Worn is the wear in words, where there is any.
	Worn []string `json:"worn"`
	// Names are the challenges of the items, by their ids.
	Names map[string]string `json:"names"`
}

// Digest is the SHA-256 of the score, in hexadecimal: two who came to the same one have
// the same digest.
func (s Score) Digest() string { return digest(s) }

func digest(v any) string {
	text, _ := json.Marshal(v) // plain values
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:])
}

// Noticed is a fault, from when it could be seen, and when the student said so.
type Noticed struct {
	Title string `json:"title"`
	// Seen is the second from which a needle or a lamp showed it, Said that at which
	// something was called not normal after that; none where it was not.
	Seen *float64 `json:"seen,omitempty"`
	Said *float64 `json:"said,omitempty"`
	// Reaction is from the one to the other, in seconds.
	Reaction *float64 `json:"reaction,omitempty"`
	Words    string   `json:"words"`
}

// Looked is how long a gauge was in view, in seconds and of the whole.
type Looked struct {
	Gauge   string  `json:"gauge"`
	Engine  int     `json:"engine"`
	Label   string  `json:"label"`
	Seconds float64 `json:"seconds"`
	Share   float64 `json:"share"`
	Times   int     `json:"times"`
}

// BesideCheck is a check as it was measured from the run, beside what was said.
type BesideCheck struct {
	Check string            `json:"check"`
	Title string            `json:"title"`
	Item  string            `json:"item"`
	Lines []recorder.Beside `json:"lines"`
}

// looked counts how long a gauge is in view.
type looked struct {
	open, was    bool
	ticks, times int
}

func (l *looked) step() {
	if l.open {
		l.ticks++
		if !l.was {
			l.times++
		}
	}
	l.was = l.open
}

// Score is what the practice has come to. When its faults could be seen is found by working
// the run again, until the context ends.
func (s *Session) Score(ctx context.Context) (Score, error) {
	if s.fault != nil {
		return Score{}, s.fault
	}
	if s.run.Decision == "" {
		return Score{}, form.Bad("run.decision", "has not been made")
	}
	scenario := s.run.Scenario
	scenario.Faults = s.Faults()
	answer, err := scenario.Decide(s.course.Library(), s.run.Decision)
	if err != nil {
		return Score{}, err
	}
	out := Score{
		Of: digest(s.Run()), State: s.State, Seconds: s.Machine.Seconds(), Answer: answer, Looked: []Looked{},
		Wear: s.Machine.Wear(), Names: map[string]string{},
	}
	levels := []int{}
	for _, i := range s.State.Items {
		if i.Level == nil {
			continue
		}
		levels = append(levels, *i.Level)
		if *i.Level == 4 {
			out.Right++
		} else {
			out.Off++
		}
	}
	slices.Sort(levels)
	if len(levels) > 0 {
		level, _ := lesson.ShownLevel(levels)
		out.Level = &level
	}
	for i, l := range s.looked {
		g := s.panel.Gauges[i]
		out.Looked = append(out.Looked, Looked{
			g.ID, g.Engine, g.Label, tenth(float64(l.ticks) * stand.Step),
			math.Round(100 * float64(l.ticks) / max(float64(s.Machine.Tick()), 1)), l.times,
		})
	}
	if out.Noticed, err = s.noticed(ctx, answer); err != nil {
		return Score{}, err
	}
	out.Beside = s.beside()
	out.Worn = worn(out.Wear)
	for _, p := range s.places {
		out.Names[p.Item.ID] = p.Item.Challenge
	}
	return out, nil
}

// noticed holds when each fault could be seen beside when something was said. It could
// be seen when a needle of the run stands apart from that of a run without it.
func (s *Session) noticed(ctx context.Context, answer stand.Answer) ([]Noticed, error) {
	out := []Noticed{}
	for i := range s.Faults() {
		n := Noticed{Title: answer.Faults[i].Title, Words: "It could not be seen in this run."}
		seen, err := s.showed(ctx, i)
		if err != nil {
			return nil, err
		}
		if seen != nil {
			n.Seen, n.Words = seen, "Not noticed."
			for _, at := range s.watch.noticed {
				if at >= *seen {
					reaction := tenth(at - *seen)
					n.Said, n.Reaction = &at, &reaction
					n.Words = fmt.Sprintf("Said %.0f s after it showed.", reaction)
					break
				}
			}
			if n.Said == nil && s.run.Decision != stand.Normal {
				n.Words = "Not said before the decision."
			}
		}
		out = append(out, n)
	}
	return out, nil
}

// apart is how far a needle must stand from a sound engine's, of its scale, for a second:
// a hundredth, chosen: some 25 rpm of a tachometer, five times what it shakes by.
const apart = 0.01

// showed is the second from which a fault could be seen: the run beside the same run
// without it.
func (s *Session) showed(ctx context.Context, fault int) (*float64, error) {
	scenario := s.run.Scenario
	with, err := scenario.Begin(s.course.Library(), s.run.Seed)
	if err != nil {
		return nil, err
	}
	slip := fault - len(scenario.Faults) // which of those slipped in, below 0 for none
	if slip < 0 {
		scenario.Faults = slices.Delete(slices.Clone(scenario.Faults), fault, fault+1)
	}
	without, err := scenario.Begin(s.course.Library(), s.run.Seed)
	if err != nil {
		return nil, err
	}
	a, b := make([]float64, len(s.panel.Gauges)), make([]float64, len(s.panel.Gauges))
	next, shows, at := 0, 0, 0
	for with.Tick() < s.Machine.Tick() {
		for ; at < len(s.came) && s.came[at].tick <= with.Tick(); at++ {
			with.Comes(s.came[at].item)
			without.Comes(s.came[at].item)
		}
		for ; next < len(s.run.Deeds) && s.run.Deeds[next].Tick <= with.Tick(); next++ {
			d := s.run.Deeds[next]
			s.redo(with, d, true)
			slipped := d.Change != nil && d.Change.Slip != nil
			s.redo(without, d, !slipped || slip != 0)
			if slipped {
				slip--
			}
		}
		with.Step()
		without.Step()
		if with.Tick()%lookTicks != 0 {
			continue
		}
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		with.Read(s.panel, a)
		without.Read(s.panel, b)
		stands := !slices.Equal(with.Lit(s.panel), without.Lit(s.panel))
		for i, g := range s.panel.Gauges {
			stands = stands || math.Abs(a[i]-b[i]) > apart*(g.To-g.From)
		}
		if shows++; !stands {
			shows = 0
		}
		if shows == stand.TicksASecond/lookTicks {
			seen := tenth(with.Seconds() - 1)
			return &seen, nil
		}
	}
	return nil, nil
}

// lookTicks is how often the two are held beside each other: ten times a second.
const lookTicks = stand.TicksASecond / 10

// redo does a deed of the run once more on a machine, with what it slips in or without;
// it was possible when it was done.
func (s *Session) redo(m *stand.Machine, d Deed, slips bool) {
	switch {
	case d.Move != nil:
		_ = m.Put(stand.Input{Control: d.Move.Control, Engine: d.Move.Engine, Value: d.Move.Value})
	case d.Change != nil:
		s.apply(m, *d.Change, slips)
	}
}

// beside measures the run as its recorder has it, and holds it to what was said.
func (s *Session) beside() []BesideCheck {
	out := []BesideCheck{}
	for _, up := range recorder.RunUps(s.track, s.course.Type, recorder.Options{}) {
		for _, m := range up.Measured {
			def, _ := check.Find(m.Check)
			one := BesideCheck{Check: m.Check, Title: def.Title}
			var said map[string]any
			for _, r := range s.State.Readings {
				if r.Check == m.Check && r.Engine == up.Engine {
					one.Item, said = r.Item, r.Reading
				}
			}
			one.Lines = m.Compare(said, s.course.Type.Tachometer)
			out = append(out, one)
		}
	}
	return out
}

// worn is the wear in words: from where it is more than a good hand leaves; chosen.
func worn(w stand.Wear) []string {
	out := []string{}
	if w.StarterHeat > 0.7 {
		out = append(out, fmt.Sprintf("The starter came to %.0f %% of what it bears.", 100*w.StarterHeat))
	}
	if w.Fouling > 0.3 {
		out = append(out, fmt.Sprintf("The plugs are fouled to %.0f %%.", 100*w.Fouling))
	}
	if w.DrySeconds > 5 {
		out = append(out, fmt.Sprintf("An engine ran %.0f s without oil pressure.", w.DrySeconds))
	}
	if w.OverspeedSeconds > 0.5 {
		out = append(out, fmt.Sprintf("An engine was too fast for %.0f s.", w.OverspeedSeconds))
	}
	if w.HotSeconds > 0 {
		out = append(out, fmt.Sprintf("The turbine was too hot for %.1f s.", w.HotSeconds))
	}
	return out
}

func tenth(v float64) float64 { return math.Round(v*10) / 10 }
