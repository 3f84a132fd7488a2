package exchange_test

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/catalog"
	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/exchange"
)

// TestCardsOfEveryType: each half has its number, the version, the date and the
// cautions; every item is on it, and nothing runs over the edge.
func TestCardsOfEveryType(t *testing.T) {
	c, err := catalog.Shipped()
	require.NoError(t, err)
	for _, list := range c.Lists {
		typ, _ := c.Type(list.AircraftType)
		card := exchange.Card{
			List: list, Type: typ, Status: fmt.Sprintf("Version %d, in force", list.Version),
			Printed: time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC),
		}
		pdf, err := exchange.WriteCard(card)
		require.NoError(t, err)
		again, err := exchange.WriteCard(card)
		require.NoError(t, err)
		assert.True(t, bytes.Equal(pdf, again), "the same card gives the same bytes")
		file := filepath.Join(t.TempDir(), "card.pdf")
		require.NoError(t, os.WriteFile(file, pdf, 0o644))
		out, err := exec.Command("pdftotext", "-raw", file, "-").Output()
		require.NoError(t, err, "pdftotext of poppler-utils reads the card")
		text := strings.Join(strings.Fields(string(out)), " ")
		pages := strings.Count(text, list.Title+" page ")
		require.Greater(t, pages, 2, list.ID)
		for n := 1; n <= pages; n++ {
			assert.Contains(t, text, fmt.Sprintf("page %d of %d", n, pages), list.ID)
		}
		assert.Equal(t, pages, strings.Count(text, card.Status+". Printed 2026-11-24."),
			"the version stands on every half of "+list.ID)
		for _, caution := range typ.Cautions {
			assert.Contains(t, text, caution)
		}
		var missing []string
		for _, p := range list.Places() {
			if !strings.Contains(text, p.Item.Challenge) || !strings.Contains(text, p.Item.Response) {
				missing = append(missing, p.Item.Challenge+": "+p.Item.Response)
			}
		}
		assert.Empty(t, missing, list.ID)
	}
}

// TestACardOfOddLetters: no letter of a list keeps its card from being printed.
func TestACardOfOddLetters(t *testing.T) {
	list := checklist.List{ID: "l", Title: "Šárka 😀 ğ ł", Version: 1, AircraftType: "a", Source: "\U0001F6E9",
		Phases: []checklist.Phase{
			{
				ID: "p", Title: "😀",
				Items: []checklist.Item{{ID: "i", Challenge: "Fuel ⛽ 🛢️", Response: "on \U0010FFFF", Why: "\ufffd"}},
			}}}
	card, err := exchange.WriteCard(exchange.Card{List: list, Status: "😀", For: "🙂"})
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(card, []byte("%PDF")))
}

// TestNothingStandsAloneOnACard: at the foot of a half no heading and no single
// line under one, at its head no single line that ends a phase, however long the
// phases are.
func TestNothingStandsAloneOnACard(t *testing.T) {
	typ := aircraft.Type{ID: "a", Name: "Alder", Cautions: []string{"Stay clear."}}
	for _, sizes := range [][]int{{27, 3, 1, 2}, {28, 4, 2}, {29, 3, 3}, {30, 5}, {31, 2, 40}, {32, 1, 33},
		{33, 34, 35}} {
		list := checklist.List{ID: "l", Title: "Long", Version: 1, AircraftType: "a", Source: "s"}
		for n, size := range sizes {
			phase := checklist.Phase{ID: fmt.Sprint("p", n), Title: fmt.Sprint("phase ", n)}
			for i := range size {
				phase.Items = append(phase.Items, checklist.Item{
					ID: fmt.Sprintf("i%d-%d", n, i), Challenge: fmt.Sprintf("c%d.%d", n, i),
					Response: "self-explanatory, well-understood words",
				})
			}
			list.Phases = append(list.Phases, phase)
		}
		pdf, err := exchange.WriteCard(exchange.Card{List: list, Type: typ, Status: "Version 1"})
		require.NoError(t, err)
		file := filepath.Join(t.TempDir(), "card.pdf")
		require.NoError(t, os.WriteFile(file, pdf, 0o644))
		for sheet := 1; ; sheet++ {
			empty := true
			for _, left := range []int{0, 421} {
				out, err := exec.Command("pdftotext", "-layout", "-f", fmt.Sprint(sheet), "-l", fmt.Sprint(sheet), "-x",
					fmt.Sprint(left), "-y", "33", "-W", "421", "-H", "495", file, "-").Output()
				if err != nil {
					break
				}
				var lines []string
				for line := range strings.Lines(string(out)) {
					if words := strings.Fields(line); len(words) > 0 &&
						(strings.HasPrefix(words[0], "c") || words[0] == "PHASE") {
						lines = append(lines, strings.Join(words, " "))
					}
				}
				if len(lines) == 0 {
					continue
				}
				empty = false
				what := fmt.Sprintf("%v, sheet %d at %d: %s", sizes, sheet, left, strings.Join(lines, " / "))
				last := lines[len(lines)-1]
				assert.False(t, strings.HasPrefix(last, "PHASE"), "a heading at the foot: %s", what)
				if len(lines) > 1 && strings.HasPrefix(lines[len(lines)-2], "PHASE") {
					var n int
					_, _ = fmt.Sscanf(lines[len(lines)-2], "PHASE %d", &n)
					assert.Equal(t, 1, sizes[n], "a single line at the foot: %s", what)
				}
				var n, i int
				if _, err := fmt.Sscanf(lines[0], "c%d.%d", &n, &i); err == nil {
					assert.Less(t, i, sizes[n]-1, "a single line at the head: %s", what)
				}
				assert.NotContains(t, what, "-/", "no word is broken")
			}
			if empty {
				break
			}
		}
	}
}
