package compare

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"gonum.org/v1/gonum/stat"
)

// Sheet is a comparison as it is read: of each instructor what they graded, and
// what of it is theirs and not their students' or their items'.
type Sheet struct {
	Grades   int    `json:"grades"`
	Students int    `json:"students"`
	Lines    []Line `json:"lines"`
	// Abilities are where the curves are told: from a beginner to one who is ready.
	// School is what the school's middle grades there.
	Abilities []float64  `json:"abilities"`
	School    []float64  `json:"school"`
	CoGrade   []Together `json:"coGrade" doc:"who should grade a lesson together"`
	Words     []string   `json:"words"`
	Caution   string     `json:"caution"`
}

// Line is one instructor. Severities are in logits, above 0 for strict, with the
// interval that holds the true one in 95 of 100 cases.
type Line struct {
	ID       string  `json:"id"`
	Name     string  `json:"name"`
	Grades   int     `json:"grades"`
	Group    int     `json:"group"`
	Severity float64 `json:"severity"`
	Low      float64 `json:"low"`
	High     float64 `json:"high"`
	// Stands is stricter or softer where the interval leaves the middle, uneven where
	// the grades scatter more than the items explain; several are possible.
	Stands []string `json:"stands"`
	// Mean is the level given on average, as it was graded, MeanLow and MeanHigh its
	// interval.
	Mean     float64 `json:"mean"`
	MeanLow  float64 `json:"meanLow"`
	MeanHigh float64 `json:"meanHigh"`
	// Curve is what the instructor grades where the abilities are told.
	Curve []float64 `json:"curve"`
	// Alone says that nothing links the line's group: it is not compared.
	Alone bool `json:"alone"`
}

// Together is a lesson that two instructors should grade together.
type Together struct {
	Instructor Named  `json:"instructor"`
	With       Named  `json:"with"`
	Student    *Named `json:"student,omitempty"`
	Why        string `json:"why"`
}

// Named is somebody by id and name.
type Named struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

const (
	// interval holds 95 of 100.
	interval = 1.96
	// uneven is the mean square above which grades scatter more than they should
	// (Wright and Linacre, Rasch Measurement Transactions 8, 1994: above 1.4 for
	// judged performances), told of no fewer than fewGrades.
	uneven    = 1.4
	fewGrades = 40
	caution   = "A difference is a reason to fly together and talk, never a reason to judge a person. Standing uses " +
		"the grades as they were given."
)

// SheetOf reads a comparison out of its model and grades. Names are those of
// instructors and students, by id.
func SheetOf(m Model, grades []Grade, names map[string]string) Sheet {
	s := Sheet{
		Grades: len(grades), Lines: []Line{}, Abilities: []float64{}, School: []float64{}, CoGrade: []Together{},
		Words: []string{}, Caution: caution,
	}
	students, levels := map[string]bool{}, map[string][]float64{}
	for _, g := range grades {
		students[g.Student] = true
		levels[g.Instructor] = append(levels[g.Instructor], float64(g.Level))
	}
	s.Students = len(students)
	named := func(id string) Named { return Named{id, cmp.Or(names[id], "somebody who left")} }
	curve := m.curves()
	for at := -3.0; at <= 3.01; at += 0.5 {
		s.Abilities = append(s.Abilities, at)
		s.School = append(s.School, curve(at))
	}
	for _, i := range m.Instructors {
		own := levels[i.ID]
		mean, spread := stat.MeanStdDev(own, nil)
		if len(own) < 2 {
			spread = 0
		}
		reach := interval * spread / math.Sqrt(float64(len(own)))
		line := Line{ID: i.ID, Name: named(i.ID).Name, Grades: len(own), Group: i.Group, Severity: i.Severity,
			Low: rounded(i.Severity - interval*i.SE), High: rounded(i.Severity + interval*i.SE),
			Stands: []string{}, Mean: rounded(mean), MeanLow: rounded(mean - reach), MeanHigh: rounded(mean + reach),
			Alone: i.Group > 1 || i.SE == 0}
		switch {
		case line.Alone:
		case line.Low > 0:
			line.Stands = append(line.Stands, "stricter")
		case line.High < 0:
			line.Stands = append(line.Stands, "softer")
		}
		if i.Infit > uneven && len(own) >= fewGrades {
			line.Stands = append(line.Stands, "uneven")
		}
		for _, at := range s.Abilities {
			line.Curve = append(line.Curve, curve(at-i.Severity))
		}
		s.Lines = append(s.Lines, line)
	}
	slices.SortStableFunc(s.Lines, func(a, b Line) int {
		return cmp.Or(a.Group-b.Group, cmp.Compare(b.Grades, a.Grades), cmp.Compare(a.Name, b.Name))
	})
	s.together(m, named)
	s.inWords("Nobody’s line leaves the school’s middle.")
	return s
}

// curves is what a student of some ability gets for an item of the middle from an
// instructor of the middle, on the scale with most steps.
func (m Model) curves() func(ability float64) float64 {
	var thresholds []float64
	for _, id := range slices.Sorted(maps.Keys(m.Thresholds)) {
		if own := m.Thresholds[id]; len(own) > len(thresholds) {
			thresholds = own
		}
	}
	return func(ability float64) float64 {
		sum, mean, log := 1.0, 0.0, 0.0
		for k, threshold := range thresholds {
			log += ability - threshold
			p := math.Exp(log)
			sum += p
			mean += p * float64(k+1)
		}
		// The steps end at the best level; where the worst were never given the scale
		// begins above them.
		return rounded(mean/sum + float64(MostLevel-len(thresholds)))
	}
}

// together proposes the co-gradings that link groups, and of one group the two
// ends of its line.
func (s *Sheet) together(m Model, named func(string) Named) {
	for _, l := range m.Links {
		t := Together{
			Instructor: named(l.Instructor), With: named(l.With), Why: "one lesson graded by both links the two groups",
		}
		if l.Student != "" {
			student := named(l.Student)
			t.Student, t.Why = &student, "one lesson of "+student.Name+" graded by both links the two groups"
		}
		s.CoGrade = append(s.CoGrade, t)
	}
	var soft, strict *Line
	for i := range s.Lines {
		line := &s.Lines[i]
		if slices.Contains(line.Stands, "softer") && (soft == nil || line.Severity < soft.Severity) {
			soft = line
		}
		if slices.Contains(line.Stands, "stricter") && (strict == nil || line.Severity > strict.Severity) {
			strict = line
		}
	}
	if soft != nil && strict != nil {
		s.CoGrade = append(s.CoGrade, Together{
			Instructor: named(strict.ID), With: named(soft.ID), Why: "the two ends of the line, one run-up each",
		})
	}
}

// inWords says what the lines come to, in plain sentences; quiet is said where none
// leaves the middle.
func (s *Sheet) inWords(quiet string) {
	middle := len(s.Abilities) / 2
	alone := map[int][]string{}
	for _, l := range s.Lines {
		apart := 0.0
		for i := range s.School { // where the difference shows most
			if d := l.Curve[i] - s.School[i]; math.Abs(d) > math.Abs(apart) {
				apart, middle = d, i
			}
		}
		switch {
		case l.Alone:
			alone[l.Group] = append(alone[l.Group], l.Name)
		case len(l.Stands) > 0 && l.Stands[0] != "uneven" && math.Abs(apart) >= 0.1:
			s.Words = append(s.Words,
				fmt.Sprintf("What %s grades %.1f, most here grade %.1f.", l.Name, l.Curve[middle], s.School[middle]))
		}
		if slices.Contains(l.Stands, "uneven") {
			s.Words = append(s.Words,
				l.Name+"’s grades scatter more than the items explain: soft on some, strict on others.")
		}
	}
	for _, group := range slices.Sorted(maps.Keys(alone)) {
		who := alone[group]
		say := "shares"
		if len(who) > 1 {
			say = "share"
		}
		if len(s.Lines) > len(who) {
			s.Words = append(s.Words,
				fmt.Sprintf("%s %s no student with the rest in the same months: nothing can be compared.",
					strings.Join(who, ", "), say))
		}
	}
	if len(s.Lines) > 0 && len(s.Words) == 0 {
		s.Words = append(s.Words, quiet)
	}
}

// For is the sheet as one instructor reads it: their own line, and the school's
// middle.
func (s Sheet) For(instructor string) Sheet {
	own := Sheet{
		Grades: s.Grades, Students: s.Students, Abilities: s.Abilities, School: s.School, Lines: []Line{},
		CoGrade: []Together{}, Words: []string{}, Caution: s.Caution,
	}
	for _, l := range s.Lines {
		if l.ID == instructor {
			own.Lines = append(own.Lines, l)
		}
	}
	own.inWords("Your line does not leave the school’s middle.")
	return own
}
