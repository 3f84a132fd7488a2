package store_test

import (
	"encoding/hex"
	"math/rand/v2"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/lesson"
	"jetprimer/core/quantity"
	"jetprimer/core/record"
	"jetprimer/exchange"
	"jetprimer/store"
)

// TestAnExportedRecordProvesItself: signed, added to, signed again, answered by
// the student: the file says so, a change anywhere in it is found, and it names
// the chain's head.
func TestAnExportedRecordProvesItself(t *testing.T) {
	s := smallSchool(t)
	id := s.signed[0]
	newest := func() string {
		state, _ := s.state(id)
		return state.Seals[len(state.Seals)-1].Seal
	}
	answer := func(of, by, words string, refused bool) error {
		return s.in(func(tx *store.Tx) error {
			return tx.Acknowledge(id, of, lesson.Answered{Refused: refused, Words: words},
				store.Signer{ID: by, Name: "Lena Moreau", How: "pin"}, uuid.Must(uuid.NewV7()).String(), at(0))
		})
	}
	assert.ErrorContains(t, answer(newest(), s.instructor, "", false), "acknowledged by its own student")
	assert.ErrorIs(t, answer(hex.EncodeToString(make([]byte, 32)), s.student, "", false), store.ErrStale,
		"of a seal that is not the newest")
	assert.ErrorContains(t, answer(newest(), s.student, " ", true), "must say why")
	require.NoError(t, answer(newest(), s.student, "The second try was mine.", true))
	state, _ := s.state(id)
	assert.False(t, state.Acknowledged)
	assert.Equal(t, "The second try was mine.", state.Answer.Words)

	_, err := s.accept(id, s.instructor, "instructor", 0,
		event(60, lesson.KindAddendum, `{"words":"Spoken about on the phone."}`))
	require.NoError(t, err)
	export := func() (file []byte, found record.Found) {
		require.NoError(t, s.in(func(tx *store.Tx) (err error) { file, found, err = tx.Export(id, at(0)); return }))
		return
	}
	_, found := export()
	assert.Len(t, found.Record.Unsigned, 1)
	require.NoError(t, s.in(func(tx *store.Tx) error { _, err := tx.RotateKey(at(0)); return err }),
		"another key signs from now on")
	s.sign(id, 0)
	require.NoError(t, answer(newest(), s.student, "", false))

	file, found := export()
	chain, err := s.verify()
	require.NoError(t, err)
	assert.Equal(t, record.Head{Number: chain.Seals, Hash: chain.Head}, found.Record.Head)
	var said []string
	for _, one := range found.Signed {
		said = append(said, one.Subject)
	}
	assert.Equal(t, []string{record.OfLesson, record.OfAcknowledgement, record.OfLesson, record.OfAcknowledgement},
		said)
	assert.Empty(t, found.Record.Unsigned)
	assert.NotEqual(t, found.Signed[0].KeyID, found.Signed[2].KeyID)
	assert.Equal(t, []bool{true, true},
		[]bool{found.Signed[0].KeyID == found.Signed[1].KeyID, found.Signed[2].KeyID == found.Signed[3].KeyID})

	random := rand.New(rand.NewPCG(1, 2))
	for range 400 {
		bit := random.IntN(len(file) * 8)
		file[bit/8] ^= 1 << (bit % 8)
		_, err := record.Verify(file)
		require.Error(t, err, "bit %d", bit)
		file[bit/8] ^= 1 << (bit % 8)
	}
	_, err = record.Verify(file)
	require.NoError(t, err)

	sheet, err := exchange.WriteGradeSheet(found, quantity.Units{})
	require.NoError(t, err)
	assert.Equal(t, "%PDF", string(sheet[:4]))
	err = s.in(func(tx *store.Tx) error { _, _, err := tx.Export(s.open, at(0)); return err })
	assert.ErrorIs(t, err, store.ErrUnsettled, "an open lesson has no record yet")
}
