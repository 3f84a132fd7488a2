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
		card := exchange.Card{List: list, Type: typ, Status: fmt.Sprintf("Version %d, in force", list.Version), Printed: time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)}
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
		assert.Equal(t, pages, strings.Count(text, card.Status+". Printed 2026-11-24."), "the version stands on every half of "+list.ID)
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
	list := checklist.List{ID: "l", Title: "Šárka 😀 ğ ł", Version: 1, AircraftType: "a", Source: "\U0001F6E9", Phases: []checklist.Phase{
		{ID: "p", Title: "😀", Items: []checklist.Item{{ID: "i", Challenge: "Fuel ⛽ 🛢️", Response: "on \U0010FFFF", Why: "\ufffd"}}}}}
	card, err := exchange.WriteCard(exchange.Card{List: list, Status: "😀", For: "🙂"})
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(card, []byte("%PDF")))
}
