package stand

import (
	"fmt"
	"math"
)

// Generate makes up a scenario of a kit's type for a difficulty from 1 to 5: the same seed
// makes the same one. An easy one has a kind day and one plain thing wrong, or nothing;
// harder ones are milder, come later, on a harder day, or together with another, and
// somebody may pass outside.
func (k Kit) Generate(difficulty int, seed uint64) Scenario {
	n := 0
	draw := func(of int) int {
		n++
		return int(chance(seed, n, difficulty) * float64(of))
	}
	between := func(low, high float64) float64 {
		n++
		return low + (high-low)*chance(seed, n, difficulty)
	}
	hard := float64(difficulty-1) / 4
	s := Scenario{ID: fmt.Sprintf("made-up-%d-%d", difficulty, seed),
		Title: fmt.Sprintf("Made up, %d of 5", difficulty), Type: k.Type.ID, Difficulty: difficulty,
		Goal: "Start by the list, warm up, work the run-up, and say whether you would go.",
		Day: Day{OATC: math.Round(between(12-22*hard, 16+20*hard)),
			QNHHPa:      math.Round(between(1013-18*hard, 1013+14*hard)),
			ElevationFt: 10 * math.Round(between(2, 42+160*hard)),
			WindKt:      math.Round(between(0, 8+8*hard)), EngineState: []string{"cold", "cold", "hot"}[draw(3)]}}
	s.Day.DewPointC = s.Day.OATC - math.Round(between(1, 14-8*hard))
	if difficulty > 2 && draw(3) == 0 { // at the moment at which one wants to crank, more or less
		s.Outside = []Passer{
			{
				What: []string{SomebodyNear, AircraftBehind}[draw(2)], From: math.Round(between(15, 60)),
				For: math.Round(between(15, 40)),
			},
		}
	}
	faults := 1
	switch {
	case difficulty == 5:
		faults = 2
	case draw(4) == 0:
		faults = 0 // to say that nothing is wrong has to be learnt as well
	}
	for range min(faults, len(k.Faults)) {
		fault := k.Faults[draw(len(k.Faults))]
		switch fault.Needs {
		case "cold":
			s.Day.EngineState = "cold"
		case "damp":
			s.Day.OATC = min(s.Day.OATC, 14)
			s.Day.DewPointC = s.Day.OATC - 2
		}
		f := Slipped{
			Fault: fault.ID, Severity: math.Round(100*between(0.8-0.8*hard, 1-0.4*hard)) / 100,
			Engine: 1 + draw(k.Type.Engines),
		}
		if difficulty > 3 && draw(2) == 0 {
			f.From = 10 * math.Round(between(3, 30))
		}
		if len(s.Faults) == 0 || s.Faults[0].Fault != f.Fault {
			s.Faults = append(s.Faults, f)
		}
	}
	return s
}
