package exchange

import (
	_ "embed"

	"codeberg.org/go-pdf/fpdf"
)

// Typeface is that of everything printed, B612, under the licence in fonts/OFL.txt.
const Typeface = "b612"

var (
	//go:embed fonts/B612-Regular.ttf
	regular []byte
	//go:embed fonts/B612-Bold.ttf
	bold []byte
)

// AddFonts lets a PDF use the typeface, regular and bold.
func AddFonts(pdf *fpdf.Fpdf) {
	pdf.AddUTF8FontFromBytes(Typeface, "", regular)
	pdf.AddUTF8FontFromBytes(Typeface, "B", bold)
}
