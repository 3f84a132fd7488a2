package guide

import (
	"bytes"
	"fmt"
	"maps"
	"strconv"
	"time"

	"codeberg.org/go-pdf/fpdf"

	"jetprimer/exchange"
)

// The printed guide, in millimetres: A4 upright.
const (
	wide, high = 210.0, 297.0
	edge       = 22.0
	textWide   = wide - 2*edge
	foot       = high - 20
	textSize   = 10.0
	// contentsLine is the height of a line of the contents: all of them fit on a page.
	contentsLine = 5.4
)

// colours of the printed guide: text, what is secondary, a caution.
var (
	ink  = [3]int{23, 33, 43}
	soft = [3]int{86, 96, 106}
	warn = [3]int{168, 90, 0}
)

// Print gives the whole guide as a PDF with its contents in front; made is its date.
func Print(made time.Time) ([]byte, error) {
	pages, err := Pages()
	if err != nil {
		return nil, err
	}
	// References take room: it is laid out until what they name is so.
	p := lay(pages, nil, made)
	for range 4 {
		before := p.begins
		if p = lay(pages, before, made); maps.Equal(before, p.begins) {
			break
		}
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		return nil, fmt.Errorf("printing the guide: %w", err)
	}
	return out.Bytes(), nil
}

// paper lays the guide out.
type paper struct {
	*fpdf.Fpdf
	// begins is the page on which each page of the guide begins, by its id.
	begins map[string]int
	// at is where each began when it was laid out before: references name the page.
	at    map[string]int
	links map[string]int
}

func lay(pages []Page, at map[string]int, made time.Time) *paper {
	p := &paper{fpdf.New("P", "mm", "A4", ""), map[string]int{}, at, map[string]int{}}
	p.SetTitle("Jet Primer, user guide", true)
	p.SetCreator("Jet Primer", true)
	p.SetCreationDate(made)
	p.SetModificationDate(made)
	p.SetCatalogSort(true)
	p.SetMargins(edge, edge, edge)
	p.SetAutoPageBreak(true, high-foot)
	exchange.AddFonts(p.Fpdf)
	p.SetFooterFunc(func() {
		p.pen("", 8, soft)
		p.SetXY(edge, foot+4)
		p.CellFormat(textWide, 5, "The approved handbook and the operator's rules govern; a licensed person decides.",
			"", 0,
			"L", false, 0, "")
		p.SetXY(edge, foot+4)
		p.CellFormat(textWide, 5, strconv.Itoa(p.PageNo()), "", 0, "R", false, 0, "")
	})
	for _, one := range pages {
		p.links[one.ID] = p.AddLink()
	}
	p.contents(pages)
	for _, one := range pages {
		p.page(one)
	}
	return p
}

func (p *paper) pen(style string, size float64, c [3]int) {
	p.SetFont(exchange.Typeface, style, size)
	p.SetTextColor(c[0], c[1], c[2])
}

func (p *paper) contents(pages []Page) {
	p.AddPage()
	p.pen("B", 22, ink)
	p.MultiCell(textWide, 10, "Jet Primer", "", "L", false)
	p.pen("", 13, soft)
	p.MultiCell(textWide, 8, "User guide", "", "L", false)
	p.Ln(6)
	for _, one := range pages {
		if p.GetY()+contentsLine > foot {
			p.AddPage()
		}
		y := p.GetY()
		p.pen("", textSize, ink)
		p.CellFormat(textWide-12, contentsLine, one.Title, "", 0, "L", false, p.links[one.ID], "")
		p.SetXY(edge, y)
		if at := p.at[one.ID]; at > 0 {
			p.CellFormat(textWide, contentsLine, strconv.Itoa(at), "", 0, "R", false, p.links[one.ID], "")
		}
		p.SetXY(edge, y+contentsLine)
	}
}

func (p *paper) page(one Page) {
	if p.GetY() > foot-60 || p.PageNo() == 1 {
		p.AddPage()
	} else {
		p.Ln(10)
	}
	p.begins[one.ID] = p.PageNo()
	p.SetLink(p.links[one.ID], p.GetY(), p.PageNo())
	p.Bookmark(one.Title, 0, -1)
	p.pen("B", 15, ink)
	p.MultiCell(textWide, 8, one.Title, "", "L", false)
	p.pen("", textSize, soft)
	p.MultiCell(textWide, 5.2, one.About, "", "L", false)
	p.Ln(2)
	for _, b := range one.Blocks {
		p.block(b)
	}
}

func (p *paper) block(b Block) {
	indent := 0.0
	switch b.Kind {
	case "heading":
		if p.GetY() > foot-24 {
			p.AddPage()
		}
		p.Ln(1.5)
	case "list", "steps":
		indent = 6
	}
	for i, item := range b.Items {
		p.pen("", textSize, ink)
		if indent > 0 {
			mark := "–"
			if b.Kind == "steps" {
				mark = strconv.Itoa(i+1) + "."
			}
			p.SetX(edge)
			p.CellFormat(indent, 5.2, mark, "", 0, "L", false, 0, "")
		}
		p.SetLeftMargin(edge + indent)
		p.SetX(edge + indent)
		for _, part := range item {
			p.part(b.Kind, part)
		}
		p.SetLeftMargin(edge)
		p.Ln(5.2)
		if indent > 0 {
			p.Ln(0.6)
		}
	}
	p.Ln(1.8)
}

func (p *paper) part(block string, part Part) {
	style, colour := "", ink
	if part.Kind == "strong" || part.Kind == "label" || part.Kind == "key" || block == "heading" {
		style = "B"
	}
	if block == "caution" {
		colour = warn
	}
	p.pen(style, textSize, colour)
	if part.Page != "" {
		p.WriteLinkID(5.2, part.Text, p.links[part.Page])
		if at := p.at[part.Page]; at > 0 {
			p.Write(5.2, fmt.Sprintf(" (page %d)", at))
		}
		return
	}
	p.Write(5.2, part.Text)
}
