package progress

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"
)

// Point is how far a student was after a lesson.
type Point struct {
	Lesson string `json:"lesson"`
	Date   string `json:"date"`
	// Met are the elements to standard or better on the day of the lesson, Checks the
	// stage checks still to pass.
	Met    int `json:"met"`
	Checks int `json:"checks"`
}

// Course is a student's way so far, a point after each of their lessons.
type Course []Point

// Course works through a student's case lesson by lesson, each of them a lesson and
// its day, oldest first. Only the elements asked for count.
func (p Policy) Course(c Case, asked []string, lessons []Seen) Course {
	type showing struct {
		met    bool
		lapses string
	}
	shown := map[string]map[string]showing{} // by lesson, by element
	for _, element := range asked {
		for _, s := range c.Facts[element].History {
			if shown[s.Lesson] == nil {
				shown[s.Lesson] = map[string]showing{}
			}
			shown[s.Lesson][element] = showing{s.met, addDays(s.Date, p.LapseDays+1)}
		}
	}
	out := Course{}
	now := map[string]showing{}
	for _, l := range lessons {
		for element, s := range shown[l.Lesson] {
			now[element] = s
		}
		point := Point{Lesson: l.Lesson, Date: l.Date}
		for _, s := range now {
			if s.met && l.Date < s.lapses {
				point.Met++
			}
		}
		on := c
		on.AsOf = l.Date
		for _, stage := range p.Stages {
			if p.stageBlock(on, stage) != "" {
				point.Checks++
			}
		}
		out = append(out, point)
	}
	return out
}

// met is how many elements were met after n lessons; none before the first.
func (c Course) met(n int) int {
	if n == 0 {
		return 0
	}
	return c[n-1].Met
}

// reaches is after how many lessons so many elements were met for the first time.
func (c Course) reaches(met int) (lessons int, ever bool) {
	for n := range len(c) + 1 {
		if c.met(n) >= met {
			return n, true
		}
	}
	return 0, false
}

// ready is after how many lessons nothing was missing for the first time.
func (c Course) ready(required int) (lessons int, ever bool) {
	for n := 1; n <= len(c); n++ {
		if c[n-1].Met >= required && c[n-1].Checks == 0 {
			return n, true
		}
	}
	return 0, false
}

// StuckAfter is after how many lessons without a gain a student is looked at as
// stuck, and ComparedWith how many others it takes to say what is usual.
const (
	StuckAfter   = 5
	ComparedWith = 5
)

// regained is how many elements may come back in that time and still be the same ones
// that slipped: of more than these a student gains again what had lapsed.
const regained = 2

// Stuck is what is said of a student who in the last StuckAfter lessons came to no
// more elements than ever before, where others gained; empty for everybody else. The
// others are those who once had as many, and how many more they had as many lessons
// later.
func (c Course) Stuck(required int, others []Course) string {
	from := len(c) - StuckAfter
	if from < 0 || c.met(len(c)) >= required {
		return ""
	}
	most := 0
	for n := range from + 1 {
		most = max(most, c.met(n))
	}
	if c.met(len(c)) > most || c.met(len(c))-c.met(from) > regained {
		return ""
	}
	gains := []int{}
	for _, o := range others {
		if at, ever := o.reaches(most); ever && at+StuckAfter <= len(o) {
			gains = append(gains, o.met(at+StuckAfter)-most)
		}
	}
	nothing := fmt.Sprintf("No element more to standard in the last %d lessons", StuckAfter)
	if len(gains) < ComparedWith && most == 0 {
		return "" // a beginner, of whom nobody can say what is usual
	}
	if len(gains) < ComparedWith {
		return nothing + "; too few others were where they were to say what is usual."
	}
	slices.Sort(gains)
	if usual := gains[len(gains)/2]; usual > 0 {
		return fmt.Sprintf("%s; of %d others from there, half gained %d or more.", nothing, len(gains), usual)
	}
	return ""
}

// ForecastFrom is the least number of comparable students who became ready; from
// fewer there is no forecast.
const ForecastFrom = 8

// Forecast is how many lessons and days it took comparable students from where a
// student stands until nothing was missing.
type Forecast struct {
	// Others are the comparable students, Ready those of them who became ready; both
	// are said where there are too few for a forecast as well.
	Others int `json:"others"`
	Ready  int `json:"ready"`
	From   int `json:"from" doc:"the least number of comparable students who became ready"`
	// Lessons and Days are nil where there are too few.
	Lessons *Spread `json:"lessons,omitempty"`
	Days    *Spread `json:"days,omitempty"`
	// Past is how the forecasts of the last year turned out.
	Past Kept `json:"past"`
}

// Spread is the middle of a number and the interval that holds it for eight of ten.
// High is nil where more than one of ten comparable students have not come so far.
type Spread struct {
	Low    int  `json:"low"`
	Middle int  `json:"middle"`
	High   *int `json:"high"`
}

// keptFrom is of how many forecasts it is said how they turned out.
const keptFrom = 5

func (s Spread) holds(n int) bool { return n >= s.Low && (s.High == nil || n <= *s.High) }

// Kept is how forecasts turned out: how many of those made when students were half
// way were held by their interval.
type Kept struct {
	Made int `json:"made"`
	Held int `json:"held"`
}

// left is what was left of a course: lessons and days until ready, or until it was
// last seen where it did not become ready.
type left struct {
	lessons, days int
	ready         bool
}

// Forecast tells from the courses of others, of whom each lesson up to a day counts,
// how long a student who stands at the end of a course has to go on.
func (c Course) Forecast(required int, others []Course, asOf string) Forecast {
	others = slices.Clone(others)
	for i := range others {
		others[i] = others[i].until(asOf)
	}
	f := c.forecast(required, others)
	yearAgo := addDays(asOf, -365)
	for i, o := range others {
		n, ever := o.ready(required)
		if !ever || o[n-1].Date <= yearAgo {
			continue
		}
		half, _ := o.reaches(required / 2)
		if half == 0 || half >= n {
			continue
		}
		rest := slices.Concat(others[:i], others[i+1:])
		for k := range rest {
			rest[k] = rest[k].until(o[half-1].Date)
		}
		if was := o[:half].forecast(required, rest); was.Lessons != nil {
			f.Past.Made++
			if was.Lessons.holds(n - half) {
				f.Past.Held++
			}
		}
	}
	return f
}

// until is what was known of a course on a day.
func (c Course) until(day string) Course {
	n, _ := slices.BinarySearchFunc(c, day, func(p Point, day string) int {
		if p.Date <= day {
			return -1
		}
		return 1
	})
	return c[:n]
}

func (c Course) forecast(required int, others []Course) Forecast {
	f := Forecast{From: ForecastFrom}
	all, ready := c.comparable(required, others)
	f.Others, f.Ready = len(all), ready
	if ready >= ForecastFrom {
		f.Lessons = spread(all, func(l left) int { return l.lessons })
		f.Days = spread(all, func(l left) int { return l.days })
	}
	return f
}

// comparable is what was left to others when they stood where this course ends, for
// as many lessons, and how many of them became ready.
func (c Course) comparable(required int, others []Course) (all []left, became int) {
	met := c.met(len(c))
	stood := 0
	for stood < len(c) && c.met(len(c)-stood-1) == met {
		stood++
	}
	for _, o := range others {
		at, ever := o.reaches(met)
		at += stood
		end, ready := o.ready(required)
		if !ready {
			end = len(o)
		}
		if !ever || at >= end {
			continue
		}
		all = append(all, left{lessons: end - at, days: daysBetween(o[max(at, 1)-1].Date, o[end-1].Date), ready: ready})
		if ready {
			became++
		}
	}
	return all, became
}

// held is how much of a forecast its interval is to hold, the rest lying half on
// either side.
const held = 0.8

// spread is the middle and the eight-of-ten interval of what was left, by the
// product-limit estimate (Kaplan and Meier, 1958): who has not become ready counts
// as long as they were seen. Lessons and days are whole numbers: of all intervals it
// is the one that holds nearest to what it is to hold, of such the one with as much
// on either side. A value at an end counts half outside (Hazen, 1914).
func spread(all []left, of func(left) int) *Spread {
	slices.SortStableFunc(all, func(a, b left) int { return cmp.Compare(of(a), of(b)) })
	type end struct {
		value   int
		outside float64
	}
	var lows, highs []end
	middle := -1
	n := float64(len(all))
	still := 1.0 // the part that has further to go
	for i := 0; i < len(all); {
		value, gone, at := of(all[i]), 0, len(all)-i
		for ; i < len(all) && of(all[i]) == value; i++ {
			if all[i].ready {
				gone++
			}
		}
		if gone == 0 {
			continue
		}
		if below := ((1-still)*n + 0.5) / (n + 1); below < 1-held {
			lows = append(lows, end{value, below})
		}
		still *= 1 - float64(gone)/float64(at)
		if middle < 0 && still <= 0.5 {
			middle = value
		}
		if above := (still*n + 0.5) / (n + 1); above < 1-held {
			highs = append(highs, end{value, above})
		}
	}
	if middle < 0 {
		return nil
	}
	if still > (1-held)/2 {
		highs = []end{{-1, (1 - held) / 2}}
	}
	s := Spread{Middle: middle}
	best := math.Inf(1)
	for _, low := range lows {
		for _, high := range highs {
			if off := math.Abs(low.outside+high.outside-(1-held)) + math.Abs(low.outside-high.outside)/4; off < best {
				best, s.Low, s.High = off, low.value, &high.value
			}
		}
	}
	if *s.High < 0 {
		s.High = nil
	}
	return &s
}

func daysBetween(from, to string) int {
	a, err := time.Parse(time.DateOnly, from)
	if err != nil {
		return 0
	}
	b, err := time.Parse(time.DateOnly, to)
	if err != nil {
		return 0
	}
	return int(b.Sub(a).Hours() / 24)
}

// AtLeast is the forecast that is never below a plan of so many lessons; its days
// grow with them.
func (f Forecast) AtLeast(lessons int) Forecast {
	if f.Lessons == nil {
		return f
	}
	raised, days := *f.Lessons, f.Days
	if days != nil && raised.Middle < lessons {
		grown := *days
		by := func(n int) int { return (n*lessons + max(raised.Middle, 1) - 1) / max(raised.Middle, 1) }
		grown.Low, grown.Middle = by(grown.Low), by(grown.Middle)
		if grown.High != nil {
			high := by(*grown.High)
			grown.High = &high
		}
		days = &grown
	}
	raised.Low, raised.Middle = max(raised.Low, lessons), max(raised.Middle, lessons)
	if raised.High != nil {
		high := max(*raised.High, raised.Middle)
		raised.High = &high
	}
	f.Lessons, f.Days = &raised, days
	return f
}

// Words are what is said of a forecast made on a day, sentence by sentence.
func (f Forecast) Words(asOf string) []string {
	if f.Lessons == nil || f.Days == nil {
		return []string{
			fmt.Sprintf("No forecast: %d who trained for the same became ready from where they stand now, and it "+
				"takes %d.", f.Ready, f.From),
		}
	}
	on := func(days int) string {
		t, err := time.Parse(time.DateOnly, addDays(asOf, days))
		if err != nil {
			return ""
		}
		return t.Format("2 January 2006")
	}
	to := func(low string, high *int, of func(int) string) string {
		if high == nil {
			return "from " + low + " on"
		}
		return low + " to " + of(*high)
	}
	more := "lessons"
	if f.Lessons.Middle == 1 {
		more = "lesson"
	}
	out := []string{
		fmt.Sprintf("%d more %s; for eight of ten %s.", f.Lessons.Middle, more,
			to(strconv.Itoa(f.Lessons.Low), f.Lessons.High, strconv.Itoa)),
		fmt.Sprintf("About %s; for eight of ten %s.", on(f.Days.Middle), to(on(f.Days.Low), f.Days.High, on)),
		fmt.Sprintf("From %d others who once stood here, of whom %d became ready.", f.Others, f.Ready),
	}
	if f.Past.Made < keptFrom {
		return append(out, "Too few forecasts came due in the last year to say how well they hold.")
	}
	return append(out,
		fmt.Sprintf("Of %d such forecasts in the last year %d held; eight of ten should.", f.Past.Made, f.Past.Held))
}
