package exchange

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"
	"time"
	"unicode"

	"codeberg.org/go-pdf/fpdf"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/quantity"
)

// The card, in millimetres: A4 across, folded in the middle to A5. Each half
// keeps a margin at its left for two holes 80 mm apart, as ISO 838 has them.
const (
	sheetWide, sheetHigh = 297.0, 210.0
	half                 = sheetWide / 2
	holeMargin           = 18.0
	holeAt               = 10.0 // from the left edge of a half
	edge                 = 7.0
	top, bottom          = 15.0, 24.0
	lineHigh             = 3.9
)

// Card says what is printed on a knee card beside the list itself.
type Card struct {
	List checklist.List
	Type aircraft.Type
	// Status says which version this is, such as "version 2, in force from
	// 2026-11-25"; Printed is the day of printing.
	Status  string
	Printed time.Time
	// For says what the list was tailored to; empty for the list as printed.
	For string
	// Units are those that the list is read in.
	Units quantity.Units
}

// WriteCard gives the list as a PDF: two columns on A4 across, each an A5 page
// with its number, the version, the date, the cautions and a margin for holes.
func WriteCard(c Card) ([]byte, error) {
	var err error
	if c.List, err = drawable(c.List.In(c.Units)); err != nil {
		return nil, fmt.Errorf("printing the card: %w", err)
	}
	c.For, c.Status = drawn(c.For), drawn(c.Status)
	counted := lay(c, 0) // once to know how many pages there are
	var out bytes.Buffer
	if err := lay(c, counted.pages).pdf.Output(&out); err != nil {
		return nil, fmt.Errorf("printing the card: %w", err)
	}
	return out.Bytes(), nil
}

// drawable is a list in letters that the card's typeface can have: those beyond
// the first plane of Unicode, such as emoji, are drawn as an empty box.
func drawable(list checklist.List) (out checklist.List, err error) {
	text, err := json.Marshal(list)
	if err != nil {
		return list, err
	}
	return out, json.Unmarshal([]byte(drawn(string(text))), &out)
}

func drawn(text string) string {
	return strings.Map(func(r rune) rune {
		if r > 0xFFFF || r == unicode.ReplacementChar {
			return '□'
		}
		return r
	}, text)
}

// lay lays the whole card out; of is how many pages it will have.
func lay(c Card, of int) *press {
	p := &press{Card: c, of: of, pdf: fpdf.New("L", "mm", "A4", "")}
	p.pdf.SetTitle(c.List.Title, true)
	p.pdf.SetCreator("Jet Primer", true)
	p.pdf.SetCreationDate(c.Printed)
	p.pdf.SetModificationDate(c.Printed)
	p.pdf.SetCatalogSort(true)
	p.pdf.SetAutoPageBreak(false, 0)
	p.pdf.SetMargins(0, 0, 0)
	p.pdf.SetCellMargin(0)
	AddFonts(p.pdf)
	p.head()
	for _, phase := range c.List.Phases {
		p.phase(phase)
	}
	return p
}

// press lays the list out, half by half.
type press struct {
	Card
	pdf   *fpdf.Fpdf
	pages int     // A5 pages begun
	of    int     // of so many
	left  float64 // of the text of the half
	y     float64
}

func (p *press) wide() float64 { return half - holeMargin - edge }

// turn begins the next half.
func (p *press) turn() {
	if p.pages%2 == 0 {
		p.pdf.AddPage()
		p.pdf.SetDrawColor(120, 120, 120)
		p.pdf.SetDashPattern([]float64{1.5, 2}, 0)
		p.pdf.SetLineWidth(0.15)
		p.pdf.Line(half, 0, half, sheetHigh)
		p.pdf.SetDashPattern(nil, 0)
	}
	from := half * float64(p.pages%2)
	p.pages++
	p.left, p.y = from+holeMargin, top
	for _, y := range []float64{sheetHigh/2 - 40, sheetHigh/2 + 40} {
		p.pdf.Circle(from+holeAt, y, 3, "D")
	}
	p.write(7.5, "", p.List.Title, p.left, 6, p.wide(), "L")
	p.write(7.5, "", fmt.Sprintf("page %d of %d", p.pages, p.of), p.left, 6, p.wide(), "R")
	p.pdf.Line(p.left, 11, p.left+p.wide(), 11)
	foot := sheetHigh - bottom + 5
	p.pdf.Line(p.left, foot, p.left+p.wide(), foot)
	p.write(6.5, "",
		fmt.Sprintf("%s. Printed %s. Source: %s.", p.Status, p.Printed.Format(time.DateOnly), p.List.Source), p.left,
		foot+1, p.wide(), "L")
	p.write(6.5, "",
		"A training record and a teaching aid, not an approved checklist. The approved handbook and the operator's "+
			"rules govern.",
		p.left, foot+8, p.wide(), "L")
}

// write puts words at a place, over as many lines as they need, and gives
// their height.
func (p *press) write(size float64, style, words string, x, y, wide float64, align string) float64 {
	p.pdf.SetFont(Typeface, style, size)
	high := size * 0.44
	lines := p.pdf.SplitText(words, wide)
	for i, line := range lines {
		p.pdf.SetXY(x, y+float64(i)*high)
		p.pdf.CellFormat(wide, high, line, "", 0, align, false, 0, "")
	}
	return float64(len(lines)) * high
}

// room begins the next half when so much does not fit.
func (p *press) room(high float64) {
	if p.pages == 0 || p.y+high > sheetHigh-bottom {
		p.turn()
	}
}

func (p *press) head() {
	p.room(0)
	p.y += p.write(14, "B", p.Type.Name, p.left, p.y, p.wide(), "L") + 1
	p.y += p.write(8, "", p.Status, p.left, p.y, p.wide(), "L")
	if p.For != "" {
		p.y += p.write(8, "", "As flown: "+p.For, p.left, p.y, p.wide(), "L")
	}
	p.y += 1.5
	for _, caution := range p.Type.Cautions {
		p.triangle(p.left, p.y+0.4)
		p.y += p.write(7.5, "B", caution, p.left+4, p.y, p.wide()-4, "L") + 0.6
	}
	p.y += 1
}

// triangle is the mark of a caution.
func (p *press) triangle(x, y float64) {
	p.pdf.SetFillColor(0, 0, 0)
	p.pdf.Polygon([]fpdf.PointType{{X: x, Y: y + 2.4}, {X: x + 2.6, Y: y + 2.4}, {X: x + 1.3, Y: y}}, "F")
}

// headingHigh is the height of a phase's heading with the space around it.
const headingHigh = 1.5 + 6.4

// phase lays a phase out: its heading keeps two lines below it, and the last two
// lines stay together, so that nothing stands alone at a foot or a head.
func (p *press) phase(phase checklist.Phase) {
	lines := make([]cardLine, len(phase.Items))
	for i, item := range phase.Items {
		lines[i] = p.measure(item)
	}
	high := func(from, to int) float64 {
		sum := 0.0
		for _, l := range lines[from:min(to, len(lines))] {
			sum += l.high
		}
		return sum
	}
	together := 2
	if len(lines) == 3 {
		together = 3
	}
	p.room(headingHigh + high(0, together))
	p.y += 1.5
	p.pdf.SetFillColor(225, 222, 214)
	p.pdf.Rect(p.left, p.y, p.wide(), 5.2, "F")
	p.write(9.5, "B", strings.ToUpper(phase.Title), p.left+1, p.y+0.6, p.wide()-2, "L")
	p.y += 6.4
	for i, l := range lines {
		if i == len(lines)-2 {
			p.room(high(i, i+2))
		} else {
			p.room(l.high)
		}
		p.line(l)
	}
}

// cardLine is an item as it is printed: challenge, dots, response; critical ones
// are bold; what holds only on some days says so.
type cardLine struct {
	checklist.Item
	style, challenge, notes string
	// responseWide is what the response takes of the width, so that no word of it
	// is broken; firstHigh is the height of both, high of the whole line.
	responseWide, firstHigh, high float64
	oneLine                       bool
}

func (p *press) measure(item checklist.Item) cardLine {
	l := cardLine{Item: item, challenge: item.Challenge}
	if item.Critical {
		l.style = "B"
	}
	switch {
	case item.Per == "":
	case item.Only != "":
		l.challenge += ", " + item.Only + " engine"
	default:
		l.challenge += ", each engine"
	}
	if item.When != "" {
		l.notes = "if " + p.Units.Say(checklist.WhenWords(item.When))
	}
	p.pdf.SetFont(Typeface, l.style, 8.5)
	l.responseWide = min(p.pdf.GetStringWidth(item.Response)+1, p.wide()*0.56)
	for word := range strings.FieldsSeq(item.Response) {
		l.responseWide = max(l.responseWide, min(p.pdf.GetStringWidth(word)+1, p.wide()*0.8))
	}
	challengeLines := len(p.pdf.SplitText(l.challenge, p.wide()-l.responseWide-3))
	l.oneLine = challengeLines == 1
	l.firstHigh = float64(max(len(p.pdf.SplitText(item.Response, l.responseWide)), challengeLines)) * 8.5 * 0.44
	l.high = l.firstHigh + 0.8
	p.pdf.SetFont(Typeface, "", 6.8)
	if l.notes != "" {
		l.high += float64(len(p.pdf.SplitText(l.notes, p.wide()-4))) * 6.8 * 0.44
	}
	if item.Caution != "" {
		l.high += float64(len(p.pdf.SplitText(item.Caution, p.wide()-8))) * 6.8 * 0.44
	}
	return l
}

func (p *press) line(l cardLine) {
	p.write(8.5, l.style, l.challenge, p.left, p.y, p.wide()-l.responseWide-3, "L")
	p.write(8.5, l.style, l.Response, p.left+p.wide()-l.responseWide, p.y, l.responseWide, "R")
	if l.oneLine {
		p.dots(p.left+p.pdf.GetStringWidth(l.challenge)+1.5, p.left+p.wide()-l.responseWide-1, p.y+2.9)
	}
	p.y += l.firstHigh
	if l.notes != "" {
		p.y += p.write(6.8, "", l.notes, p.left+4, p.y, p.wide()-4, "L")
	}
	if l.Caution != "" {
		p.triangle(p.left+4, p.y+0.2)
		p.y += p.write(6.8, "", l.Caution, p.left+8, p.y, p.wide()-8, "L")
	}
	p.y += 0.8
}

func (p *press) dots(from, to, y float64) {
	if to-from < 2 {
		return
	}
	p.pdf.SetDashPattern([]float64{0.2, 1.3}, 0)
	p.pdf.SetLineWidth(0.2)
	p.pdf.Line(from, y, to, y)
	p.pdf.SetDashPattern(nil, 0)
}
