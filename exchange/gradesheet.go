package exchange

import (
	"bytes"
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"rsc.io/qr"

	"jetprimer/core/check"
	"jetprimer/core/lesson"
	"jetprimer/core/quantity"
	"jetprimer/core/record"
	"jetprimer/core/words"
)

// The grade sheet, in millimetres: A4 upright.
const (
	paperWide, paperHigh = 210.0, 297.0
	paperEdge            = 16.0
	paperText            = paperWide - 2*paperEdge
	paperFoot            = paperHigh - 20
)

// RecordCode is what the code on a grade sheet says: the record's hash, under a
// name that tells what it is.
func RecordCode(f record.Found) string {
	return record.Kind + ":" + f.Record.Lesson.ID + ":" + f.Hash
}

// WriteGradeSheet gives a proved record as a PDF: the lesson in time, what was
// not right at once, readings, findings, hours, and who signed it with which
// key. Its numbers are in the units given.
func WriteGradeSheet(f record.Found, u quantity.Units) ([]byte, error) {
	f.State = f.State.In(u)
	counted := layGrades(f, 0)
	g := layGrades(f, counted.pages)
	if g.failed != nil {
		return nil, fmt.Errorf("printing the grade sheet: %w", g.failed)
	}
	var out bytes.Buffer
	if err := g.pdf.Output(&out); err != nil {
		return nil, fmt.Errorf("printing the grade sheet: %w", err)
	}
	return out.Bytes(), nil
}

// grades lays a grade sheet out, page by page.
type grades struct {
	record.Found
	pdf    *fpdf.Fpdf
	pages  int
	of     int
	y      float64
	names  map[string]record.Item
	failed error
}

func layGrades(f record.Found, of int) *grades {
	g := &grades{Found: f, of: of, pdf: fpdf.New("P", "mm", "A4", ""), names: map[string]record.Item{}}
	for _, i := range f.Record.Items {
		g.names[i.ID] = i
	}
	exported, _ := time.Parse(time.RFC3339, f.Record.ExportedAt)
	g.pdf.SetTitle("Grade sheet", true)
	g.pdf.SetCreator("Jet Primer", true)
	g.pdf.SetCreationDate(exported)
	g.pdf.SetModificationDate(exported)
	g.pdf.SetCatalogSort(true)
	g.pdf.SetAutoPageBreak(false, 0)
	g.pdf.SetMargins(0, 0, 0)
	g.pdf.SetCellMargin(0)
	AddFonts(g.pdf)
	g.turn()
	g.head()
	g.strip()
	g.phases()
	g.deviations()
	g.measured()
	g.wordsPart()
	g.signatures()
	return g
}

// turn begins a page, with what stands on every one.
func (g *grades) turn() {
	g.pdf.AddPage()
	g.pages++
	g.y = paperEdge
	g.ink(0)
	g.pdf.SetLineWidth(0.15)
	g.pdf.Line(paperEdge, paperFoot+2, paperEdge+paperText, paperFoot+2)
	g.at(6.5, "",
		"A training record, not an approved checklist. The published standard, the approved handbook and the "+
			"operator's rules govern.", paperEdge, paperFoot+3.5, paperText-25, "L")
	g.at(6.5, "", fmt.Sprintf("page %d of %d", g.pages, g.of), paperEdge, paperFoot+3.5, paperText, "R")
	h := g.Record.Head
	g.at(5.6, "", fmt.Sprintf("head of the school's chain: seal %d, %s", h.Number, h.Hash), paperEdge, paperFoot+10,
		paperText, "L")
}

// ink sets the colour: 0 for black, else a verdict's.
func (g *grades) ink(of int) {
	colours := [][3]int{{23, 33, 43}, {10, 106, 88}, {168, 90, 0}, {165, 18, 42}, {86, 96, 106}}
	c := colours[of]
	g.pdf.SetTextColor(c[0], c[1], c[2])
	g.pdf.SetDrawColor(c[0], c[1], c[2])
	g.pdf.SetFillColor(c[0], c[1], c[2])
}

// inkOf is the colour of how something stands.
func inkOf(s check.State) int {
	switch s {
	case check.Within:
		return 1
	case check.Attend:
		return 2
	case check.Out:
		return 3
	}
	return 4
}

// standsOf is how a mark stands.
func standsOf(mark string) check.State {
	for _, m := range words.All().Marks {
		if m.ID == mark {
			return m.State
		}
	}
	return check.Unjudged
}

// at puts words at a place, over as many lines as they need, and gives their
// height.
func (g *grades) at(size float64, style, words string, x, y, wide float64, align string) float64 {
	g.pdf.SetFont(Typeface, style, size)
	high := size * 0.46
	lines := g.pdf.SplitText(drawn(words), wide)
	for i, line := range lines {
		g.pdf.SetXY(x, y+float64(i)*high)
		g.pdf.CellFormat(wide, high, line, "", 0, align, false, 0, "")
	}
	return float64(len(lines)) * high
}

// line puts words below what stands, on a new page where they do not fit.
func (g *grades) line(size float64, style, words string, indent float64) {
	g.pdf.SetFont(Typeface, style, size)
	high := float64(len(g.pdf.SplitText(drawn(words), paperText-indent))) * size * 0.46
	g.room(high)
	g.y += g.at(size, style, words, paperEdge+indent, g.y, paperText-indent, "L") + 0.7
}

func (g *grades) room(high float64) {
	if g.y+high > paperFoot {
		g.turn()
	}
}

func (g *grades) heading(words string) {
	g.room(16)
	g.y += 2.5
	g.ink(0)
	g.y += g.at(10, "B", words, paperEdge, g.y, paperText, "L") + 0.8
	g.pdf.SetLineWidth(0.2)
	g.pdf.Line(paperEdge, g.y, paperEdge+paperText, g.y)
	g.y += 1.4
}

const codeWide = 28.0

func (g *grades) head() {
	r, o := g.Record, g.State.Opened
	code, err := qr.Encode(RecordCode(g.Found), qr.M)
	if err != nil {
		g.failed = err
		return
	}
	g.ink(0)
	dot := codeWide / float64(code.Size)
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				g.pdf.Rect(paperEdge+paperText-codeWide+float64(x)*dot, paperEdge+float64(y)*dot, dot, dot, "F")
			}
		}
	}
	wide := paperText - codeWide - 6
	g.y += g.at(9, "", r.School.Name, paperEdge, g.y, wide, "L") + 0.5
	g.y += g.at(17, "B", "Grade sheet, "+r.Lesson.Student.Name, paperEdge, g.y, wide, "L") + 0.8
	g.y += g.at(10, "", fmt.Sprintf("%s, %s, %s", r.Lesson.Day, r.Lesson.Aircraft, r.Type.Name), paperEdge, g.y, wide,
		"L") + 0.4
	said := words.All()
	g.y += g.at(8.5, "",
		fmt.Sprintf("with %s; %s; %s", r.Lesson.Instructor.Name, word(said.Methods, o.Method),
			word(said.Purposes, o.Purpose)), paperEdge, g.y, wide, "L") + 0.4
	place := ""
	if o.Runway != "" {
		place = "; runway " + strings.TrimSpace(o.Runway+" "+o.Wind)
	}
	g.y += g.at(8.5, "", "List: "+r.List+place, paperEdge, g.y, wide, "L") + 0.4
	if o.Paper != nil {
		g.y += g.at(8.5, "B", o.Paper.Words(), paperEdge, g.y, wide, "L") + 0.4
	}
	if g.Flag != "" {
		g.y += g.at(8.5, "B", "This lesson was "+g.Flag+".", paperEdge, g.y, wide, "L") + 0.4
	}
	g.ink(4)
	g.y += g.at(6.2, "", "record "+g.Hash, paperEdge, g.y, wide, "L")
	g.y = max(g.y, paperEdge+codeWide) + 2
}

// word is what something is called.
func word(of []words.Word, id string) string {
	if i := slices.IndexFunc(of, func(w words.Word) bool { return w.ID == id }); i >= 0 {
		return of[i].Words
	}
	return id
}

// challenge is an item by its words.
func (g *grades) challenge(id string) string { return cmp.Or(g.names[id].Challenge, id) }

// strip draws the lesson in time: phases, a tick an item, a shape on each
// deviation, readings below.
func (g *grades) strip() {
	s := lesson.StripOf(g.State, g.challenge)
	const high, base = 30.0, 19.0
	g.room(high)
	x := func(ms int64) float64 { return paperEdge + paperText*float64(min(ms, s.EndMs))/float64(s.EndMs) }
	g.ink(4)
	g.pdf.SetLineWidth(0.1)
	last := -1.0
	for i, p := range s.Phases {
		at, next := x(p.FromMs), paperEdge+paperText
		if i+1 < len(s.Phases) {
			next = x(s.Phases[i+1].FromMs)
		}
		g.pdf.Line(at, g.y+4, at, g.y+base+7)
		g.pdf.SetFont(Typeface, "", 6.5)
		if w := g.pdf.GetStringWidth(p.Title); at > last && (at+w < next || i+1 == len(s.Phases)) {
			g.at(6.5, "", p.Title, min(at, paperEdge+paperText-w), g.y, w+1, "L")
			last = at + w
		}
	}
	g.ink(0)
	g.pdf.SetLineWidth(0.25)
	g.pdf.Line(paperEdge, g.y+base, paperEdge+paperText, g.y+base)
	for _, t := range s.Ticks {
		g.tick(x(t.AtMs), g.y+base, t.Mark)
	}
	for _, r := range s.Readings {
		g.ink(inkOf(r.State))
		g.verdict(x(r.AtMs), g.y+base+4, r.State)
	}
	g.ink(4)
	g.at(6.2, "", "0 min", paperEdge, g.y+base+7, 20, "L")
	g.at(6.2, "", fmt.Sprintf("%d min", s.EndMs/60_000), paperEdge, g.y+base+7, paperText, "R")
	g.y += high
}

// deviation is the shape of a mark in its colour.
func (g *grades) deviation(x, y float64, mark string) {
	g.ink(inkOf(standsOf(mark)))
	g.pdf.SetLineWidth(0.3)
	if mark == "done" || mark == "self-fixed" || mark == "passed" {
		g.pdf.Line(x, y+1.2, x, y-1.2)
		return
	}
	g.shape(x, y, mark)
}

// tick is an item on the ruler: short when it was right, longer with its shape
// when it was not.
func (g *grades) tick(x, y float64, mark string) {
	g.pdf.SetLineWidth(0.3)
	stands := standsOf(mark)
	g.ink(inkOf(stands))
	switch {
	case mark == "passed": // never like one that was marked
		g.pdf.Line(x, y, x, y-1.2)
		return
	case mark == "done" || mark == "self-fixed" || stands == check.Unjudged:
		g.pdf.Line(x, y, x, y-3)
		return
	}
	g.pdf.Line(x, y, x, y-7)
	g.shape(x, y-8.3, mark)
}

// shape is the head of a deviation's tick.
func (g *grades) shape(x, y float64, mark string) {
	const r = 1.1
	switch mark {
	case "prompted":
		g.pdf.Circle(x, y, r, "D")
	case "helped":
		g.pdf.Polygon([]fpdf.PointType{{X: x - r, Y: y + r}, {X: x + r, Y: y + r}, {X: x, Y: y - r}}, "D")
	case "late", "out-of-order":
		g.pdf.Polygon([]fpdf.PointType{{X: x - r, Y: y}, {X: x, Y: y - r}, {X: x + r, Y: y}, {X: x, Y: y + r}}, "D")
	case "unsafe":
		g.pdf.Rect(x-r, y-r, 2*r, 2*r, "F")
	default:
		g.pdf.Line(x-r, y-r, x+r, y+r)
		g.pdf.Line(x-r, y+r, x+r, y-r)
	}
}

// verdict is the shape of how a reading stands.
func (g *grades) verdict(x, y float64, s check.State) {
	const r = 0.9
	switch s {
	case check.Within:
		g.pdf.Circle(x, y, r, "F")
	case check.Out:
		g.pdf.Rect(x-r, y-r, 2*r, 2*r, "F")
	default:
		g.pdf.Polygon([]fpdf.PointType{{X: x - r, Y: y + r}, {X: x + r, Y: y + r}, {X: x, Y: y - r}}, "F")
	}
}

// phases are tiles: what was right, and what was not, in each phase.
func (g *grades) phases() {
	var worked []lesson.PhaseState
	for _, p := range g.State.Phases {
		if p.Marked > 0 {
			worked = append(worked, p)
		}
	}
	const across = 5
	wide := paperText / across
	for i, p := range worked {
		if i%across == 0 {
			if i > 0 {
				g.y += 11
			}
			g.room(12)
		}
		x := paperEdge + wide*float64(i%across)
		g.ink(4)
		g.at(7, "", p.Title, x, g.y, wide-2, "L")
		g.ink(0)
		right := fmt.Sprintf("%d of %d right", p.Levels[4], p.Levels[0]+p.Levels[1]+p.Levels[2]+p.Levels[3]+p.Levels[4])
		g.at(8.5, "B", right, x, g.y+3.6, wide-2, "L")
		if n := p.Total - p.Marked; n > 0 {
			g.ink(4)
			g.at(6.2, "", fmt.Sprintf("%d not observed", n), x, g.y+7.6, wide-2, "L")
		}
	}
	if len(worked) > 0 {
		g.y += 11
	}
}

// deviations are the items that were not right at once, with their grade and
// the reasons.
func (g *grades) deviations() {
	g.heading("What was not right at once")
	n, observed := 0, 0
	for _, i := range g.State.Items {
		if i.Level != nil {
			observed++
		}
		if i.First == nil && (i.Level == nil || *i.Level == 4 && i.Override == nil) {
			continue
		}
		n++
		step := lesson.Step{Label: strings.ToLower(markLabel(i.Mark))}
		if i.Level != nil {
			step, _ = g.Record.Scale.Show(*i.Level)
		}
		var why []string
		for _, r := range i.Reasons {
			why = append(why, r.Message)
		}
		if i.Override != nil {
			proposed := "no level"
			if i.Proposed != nil {
				p, _ := g.Record.Scale.Show(*i.Proposed)
				proposed = p.Label
			}
			why = append(why, fmt.Sprintf("Proposed %s; the instructor's grade stands: %s", proposed,
				i.Override.Reason))
		}
		if i.First != nil {
			why = append([]string{g.corrected(i)}, why...)
		}
		text := fmt.Sprintf("%s: %s", g.challenge(i.ID), step.Label)
		g.room(9)
		g.ink(0)
		g.deviation(paperEdge+2, g.y+2, i.Mark)
		g.ink(0)
		g.line(8.5, "B", text, 7)
		if len(why) > 0 {
			g.line(7.5, "", strings.Join(why, " "), 7)
		}
		g.y += 0.6
	}
	g.ink(4)
	switch {
	case observed == 0:
		g.line(8, "", "Nothing was observed.", 0)
		return
	case n == 0:
		g.line(8, "", "Nothing among what was observed.", 0)
	}
	g.line(7.5, "", g.State.Seen().Words, 0)
	if len(g.State.Corrections) > 0 {
		g.ink(0)
		g.line(7.5, "", "Signed: what stood in the first signature. Corrected: what stands since, signed by itself.", 0)
	}
}

// markLabel is a mark in words.
func markLabel(mark string) string {
	for _, w := range words.All().Marks {
		if w.ID == mark {
			return w.Words
		}
	}
	return mark
}

// corrected is what was signed first of an item, and why it does not stand.
func (g *grades) corrected(i lesson.ItemState) string {
	signed := "no level"
	if i.First.Level != nil {
		step, _ := g.Record.Scale.Show(*i.First.Level)
		signed = step.Label
	}
	now := "no level"
	if i.Level != nil {
		step, _ := g.Record.Scale.Show(*i.Level)
		now = step.Label
	}
	return fmt.Sprintf("Signed: %s, %s. Corrected: %s, %s, because: %s.", strings.ToLower(markLabel(i.First.Mark)),
		signed, strings.ToLower(markLabel(i.Mark)), now, strings.TrimSuffix(i.First.Why, "."))
}

// measured are the readings with their verdicts, and the findings.
func (g *grades) measured() {
	if len(g.State.Readings) > 0 {
		g.heading("Readings")
	}
	for _, r := range g.State.Readings {
		stands, words := check.Unjudged, "cannot be judged: "+r.Unusable
		if r.Verdict != nil {
			stands, words = check.StateOf(r.Verdict.Outcome), strings.ToLower(check.OutcomeWords(r.Verdict.Outcome))
			for _, f := range r.Verdict.Findings {
				words += ". " + strings.TrimSuffix(f.Message, ".")
			}
		}
		if d := r.Decision; d != nil {
			words += ". Decided: " + decided(*d)
		}
		g.room(5)
		g.ink(inkOf(stands))
		g.verdict(paperEdge+2, g.y+1.7, stands)
		g.ink(0)
		engine := ""
		if g.Record.Type.Engines > 1 && r.Engine > 0 {
			engine = ", " + g.Record.Type.EngineName(r.Engine) + " engine"
		}
		g.line(8, "",
			fmt.Sprintf("%s%s, try %d: %s.", g.challenge(r.Item), engine, r.Attempt, strings.TrimSuffix(words, ".")), 7)
	}
	if len(g.State.Findings) > 0 {
		g.heading("Findings on the aircraft")
	}
	for _, f := range g.State.Findings {
		text := f.Words
		if f.Decision != nil {
			text += " Decided: " + decided(*f.Decision)
		}
		g.ink(0)
		g.line(8, "", text, 0)
		for _, hash := range f.Pictures {
			g.ink(4)
			g.line(6.2, "", "picture "+hash, 4)
		}
	}
}

func decided(d lesson.Decision) string {
	text := word(words.All().Decisions, d.Decision)
	if d.Told != "" {
		text += ", told " + d.Told
	}
	if d.Why != "" {
		text += ", because: " + d.Why
	}
	return text + "."
}

// wordsPart are hours, comments and what came later.
func (g *grades) wordsPart() {
	if len(g.State.HourMeter)+len(g.State.Debrief)+len(g.State.Orals)+len(g.Record.Unsigned) == 0 {
		return
	}
	g.heading("Hours and words")
	g.ink(0)
	for _, h := range g.State.HourMeter {
		meter := map[string]string{"hour": "Hour meter", "tacho": "Tachometer"}[h.Meter]
		g.line(8, "", fmt.Sprintf("%s at the %s: %g h", meter, h.When, h.Value), 0)
	}
	if n := len(g.State.Orals); n > 0 {
		sum := 0
		for _, o := range g.State.Orals {
			if o.Level >= 3 {
				sum++
			}
		}
		g.line(8, "", fmt.Sprintf("Questions: %d asked, %d known.", n, sum), 0)
	}
	for _, n := range g.State.Debrief {
		g.line(8, "", n.Words, 0)
	}
	if n := len(g.Record.Unsigned); n > 0 {
		g.ink(2)
		g.line(8, "", fmt.Sprintf("Events that came later and are not signed: %d.", n), 0)
	}
}

// signatures are who signed, when, how, and with which key.
func (g *grades) signatures() {
	g.heading("Signed")
	for _, s := range g.Signed {
		g.room(12)
		g.ink(0)
		did := map[string]string{record.OfLesson: "signed", record.OfAcknowledgement: "acknowledged"}[s.Subject]
		if s.Refused {
			did = "did not acknowledge"
		}
		how := ""
		if s.How != "" {
			how = ", by " +
				map[string]string{
					"password": "password", "pin": "PIN", "device": "PIN on a device without the school",
					"passkey": "passkey",
				}[s.How]
		}
		g.line(9, "B", fmt.Sprintf("%s %s", s.By, did), 0)
		at, _ := time.Parse(time.RFC3339Nano, s.At)
		rules := ""
		if s.Events > 0 && s.Rules != "" {
			rules = fmt.Sprintf("; %d events, rules %s", s.Events, s.Rules)
		}
		g.line(7.5, "",
			fmt.Sprintf("%s UTC%s%s; seal %d, key %s", at.UTC().Format("2006-01-02 15:04"), how, rules, s.Number,
				s.KeyID), 0)
		if s.Words != "" {
			g.line(8, "", "“"+s.Words+"”", 4)
		}
		g.ink(4)
		g.line(6.2, "", "seal "+s.Hash, 0)
		g.y += 1
	}
	g.ink(4)
	g.line(6.8, "",
		"The code names the record by its newest seal. The exported file proves itself: jetprimer verify, or the "+
			"page Verify. Hold the key's id to the one that the school shows.", 0)
}
