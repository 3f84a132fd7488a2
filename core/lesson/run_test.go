package lesson_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
)

// TestARunAnswersWhatFailed: by its newest judged try of each check that failed, once it
// is signed; what it read before the finding does not count.
func TestARunAnswersWhatFailed(t *testing.T) {
	flown := opened("read-and-do")
	stopped := flown.add(lesson.KindReading, `{"item":"magnetos",`+magnetos(1660, 1750)+`}`)
	wrote := flown.add(lesson.KindFinding, `{"item":"papers","words":"torn page"}`)
	of := foldWarm(t, flown)
	failed := of.FailedBehind(stopped)
	require.Len(t, failed, 1)
	assert.Empty(t, of.FailedBehind(wrote), "what was only seen rests on no check")

	run := func(since int64, tries ...string) lesson.Retest {
		w := opened("read-and-do")
		for _, reading := range tries {
			w.add(lesson.KindReading, `{"item":"magnetos",`+reading+`}`)
		}
		w.sealAll(t)
		s := foldWarm(t, w)
		return s.Retests(failed, since)
	}
	good, dead, notSet := magnetos(1660, 1670), magnetos(1660, 1750), `"check":"magneto","reading":{"unit":"rpm","base":1600,"left":1500,"bothAfterLeft":1600,"right":1510,"bothAfterRight":1600,"roughLeft":false,"roughRight":false,"stoppedLeft":false,"stoppedRight":false}`
	for name, c := range map[string]struct {
		since   int64
		tries   []string
		answers bool
		says    string
	}{
		"measured again":            {tries: []string{good}, answers: true, says: "Magneto check: Within limits."},
		"mended between two tries":  {tries: []string{dead, good}, answers: true, says: "Within limits"},
		"good, then the same again": {tries: []string{good, dead}, says: "The drop on the right magneto is 0 rpm"},
		"only another check":        {tries: []string{warmOil}, says: "was not measured again"},
		"could not be judged":       {tries: []string{notSet}, says: "was not measured again"},
		"before it was found":       {since: 1 << 40, tries: []string{good}, says: "was not measured again"},
	} {
		got := run(c.since, c.tries...)
		assert.Equal(t, c.answers, got.Answers, name)
		assert.Contains(t, got.Words, c.says, name)
	}
	unsigned := opened("read-and-do")
	unsigned.add(lesson.KindReading, `{"item":"magnetos",`+good+`}`)
	s := foldWarm(t, unsigned)
	assert.False(t, s.Retests(failed, 0).Answers)
}
