package exchange_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jetprimer/exchange"
)

// TestACalendarIsReadAsItWasMeant: whatever the texts are, lines are of at most 75
// bytes, end with CR and LF, and unfolded and unescaped they give the texts.
func TestACalendarIsReadAsItWasMeant(t *testing.T) {
	at := time.Date(2026, 11, 27, 9, 0, 0, 0, time.FixedZone("", 3600))
	rapid.Check(t, func(r *rapid.T) {
		title := rapid.StringOf(rapid.RuneFrom([]rune("aé😀,;\\\n:\" "))).Draw(r, "title")
		text := string(exchange.WriteCalendar("Tarn Hollow", []exchange.Appointment{
			{ID: "x@y", Start: at, End: at.Add(90 * time.Minute), Title: title},
		}, at))
		require.True(r, strings.HasSuffix(text, "END:VCALENDAR\r\n"))
		for line := range strings.SplitSeq(text, "\r\n") {
			require.LessOrEqual(r, len(line), 75)
			require.NotContains(r, line, "\n")
		}
		unfolded := strings.ReplaceAll(text, "\r\n ", "")
		_, after, found := strings.Cut(unfolded, "\r\nSUMMARY:")
		require.True(r, found)
		summary, _, _ := strings.Cut(after, "\r\n")
		require.Equal(r, title, strings.NewReplacer(`\\`, `\`, `\;`, ";", `\,`, ",", `\n`, "\n").Replace(summary))
		require.Contains(r, unfolded, "\r\nDTSTART:20261127T080000Z\r\nDTEND:20261127T093000Z\r\n")
	})
	assert.NotContains(t, string(exchange.WriteCalendar("a\x00b\r\nATTACH:x", nil, at)), "\nATTACH",
		"a text makes no line of its own")
}
