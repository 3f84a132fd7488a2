package record_test

import (
	"bytes"
	"crypto/ed25519"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"runtime"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jetprimer/core/aircraft"
	"jetprimer/core/checklist"
	"jetprimer/core/lesson"
	"jetprimer/core/record"
	"jetprimer/internal/parsertest"
)

// chain is a school that signs.
type chain struct {
	key  ed25519.PrivateKey
	head []byte
	n    int64
}

func (c *chain) keyID() string { return record.KeyID(c.key.Public().(ed25519.PublicKey)) }

// seal puts a content into the chain, as the store does.
func (c *chain) seal(content record.Seal) record.Exported {
	c.n++
	content.Format, content.School, content.Number, content.KeyID = record.SealFormat, "school", c.n, c.keyID()
	content.Previous, content.SignedAt = hex.EncodeToString(c.head), "2026-11-24T10:00:00Z"
	data, err := json.Marshal(content)
	if err != nil {
		panic(err)
	}
	previous := c.head
	c.head = record.Chained(c.head, data)
	return record.Exported{Number: c.n, Format: content.Format,
		By: record.Party{ID: content.SignedBy, Name: content.Signer}, At: content.SignedAt, Content: data,
		Previous: hex.EncodeToString(previous), Hash: hex.EncodeToString(c.head), KeyID: content.KeyID,
		Signature: hex.EncodeToString(ed25519.Sign(c.key, c.head))}
}

// signed is a small record: two items, ended, signed and acknowledged.
func signed(t testing.TB) (record.Record, *chain) {
	t.Helper()
	book := lesson.Book{Type: aircraft.Type{ID: "alder", Version: 1, Engines: 1},
		List: checklist.List{ID: "l", AircraftType: "alder", Version: 1,
			Phases: []checklist.Phase{
				{ID: "start", Title: "Start", Items: []checklist.Item{{ID: "brakes", Critical: true}, {ID: "beacon"}}},
			}}}
	l := lesson.New(book)
	for i, e := range [][2]string{{
		lesson.KindOpened,
		`{"student":"s","instructor":"i","aircraft":"QZ-AAA","aircraftType":"alder","typeVersion":1,"list":"l","listVersion":1,"method":"read-and-do","scale":"five","purpose":"training"}`,
	},
		{lesson.KindItemResult, `{"item":"brakes","result":"done"}`}, {lesson.KindPrompt, `{"item":"beacon"}`}, {
			lesson.KindEnded, `{}`,
		}} {
		n := int64(i + 1)
		answers := l.Add(lesson.Event{
			ID: fmt.Sprintf("01900000-0000-7000-8000-%012x", n), Device: "tablet", Seq: n, Counter: n, AtMs: n * 1000,
			Wall: "2026-11-24T09:00:00Z", Kind: e[0], V: 1, Payload: json.RawMessage(e[1]),
		})
		require.Equal(t, "held", answers[0].Status, answers[0].Reason)
	}
	state := l.State()
	content := record.Seal{
		Subject: record.OfLesson, Lesson: "lesson", Event: "e", Result: &state, SignedBy: "i", Signer: "Tunde Okonjo",
		How: "password",
	}
	for _, e := range l.Content() {
		content.Events = append(content.Events, e)
	}
	c := &chain{key: ed25519.NewKeyFromSeed(bytes.Repeat([]byte{7}, ed25519.SeedSize)), head: []byte{1, 2, 3}, n: 11}
	first := c.seal(content)
	second := c.seal(record.Seal{Subject: record.OfAcknowledgement, Lesson: "lesson", Event: "f", SignedBy: "s",
		Signer: "Lena Moreau", How: "pin",
		Events: []json.RawMessage{json.RawMessage(`{"id":"f"}`)}, Of: first.Hash, Answer: &lesson.Answered{
			Words: "seen <so>",
		}})
	return record.Record{Kind: record.Kind, Format: record.Format, ExportedAt: "2026-11-25T10:00:00Z",
		School: record.Party{ID: "school", Name: "Tarn Hollow"},
		Lesson: record.Lesson{
			ID: "lesson", Student: record.Party{ID: "s", Name: "Lena Moreau"},
			Instructor: record.Party{ID: "i", Name: "Tunde Okonjo"}, Aircraft: "QZ-AAA", Day: "2026-11-24",
		},
		Type: book.Type, Items: []record.Item{}, Seals: []record.Exported{first, second}, Unsigned: []json.RawMessage{},
		Keys: map[string]string{c.keyID(): hex.EncodeToString(c.key.Public().(ed25519.PublicKey))}, Head: record.Head{
			Number: c.n, Hash: hex.EncodeToString(c.head),
		}}, c
}

func write(t testing.TB, r record.Record, c *chain) []byte {
	t.Helper()
	file, err := r.Write(c.keyID(), c.key)
	require.NoError(t, err)
	return file
}

func TestARecordProvesItself(t *testing.T) {
	r, c := signed(t)
	found, err := record.Verify(write(t, r, c))
	require.NoError(t, err)
	assert.Equal(t, "lesson of Lena Moreau with Tunde Okonjo in QZ-AAA on 2026-11-24 at Tarn Hollow: "+
		"signed by Tunde Okonjo on 2026-11-24T10:00:00Z (seal 12, key "+c.keyID()+", 4 events, rules "+
		found.State.RulesVersion+"); "+
		"acknowledged by Lena Moreau on 2026-11-24T10:00:00Z (seal 13)", found.Line())
	assert.Equal(t, r.Seals[1].Hash, found.Hash)
	assert.True(t, found.State.Ended)
}

// TestEverySingleBitCounts: whatever bit of a record is changed, it no longer
// proves itself.
func TestEverySingleBitCounts(t *testing.T) {
	r, c := signed(t)
	file := write(t, r, c)
	bits := len(file) * 8
	var next atomic.Int64
	var workers sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		workers.Go(func() {
			changed := bytes.Clone(file)
			for bit := int(next.Add(1) - 1); bit < bits; bit = int(next.Add(1) - 1) {
				changed[bit/8] ^= 1 << (bit % 8)
				if _, err := record.Verify(changed); err == nil {
					t.Errorf("bit %d of byte %d, %q, may be another", bit%8, bit/8, file[max(0, bit/8-20):bit/8+1])
				}
				changed[bit/8] ^= 1 << (bit % 8)
			}
		})
	}
	workers.Wait()
	for cut := range len(file) {
		_, err := record.Verify(file[:cut])
		require.Error(t, err, "cut after %d bytes", cut)
	}
}

// TestNobodyButTheSignerMakesARecord: what a school's key signs anew, as a
// program gone wrong would, is still held to the seals inside.
func TestNobodyButTheSignerMakesARecord(t *testing.T) {
	for want, spoil := range map[string]func(r *record.Record, c *chain){
		"was signed by somebody else":        func(r *record.Record, _ *chain) { r.Seals[0].By.Name = "Somebody" },
		"is of another student, instructor":  func(r *record.Record, _ *chain) { r.Lesson.Aircraft = "QZ-AAB" },
		"has no signature of its instructor": func(r *record.Record, _ *chain) { r.Seals = r.Seals[:0] },
		"acknowledges something else":        func(r *record.Record, _ *chain) { r.Seals = r.Seals[1:] },
		"stands before seal": func(r *record.Record, _ *chain) {
			r.Seals = append(r.Seals, r.Seals[0])
		},
		"has no key": func(r *record.Record, c *chain) {
			r.Seals[0].KeyID = "0000000000000000"
		},
		"is not the one it is named after": func(r *record.Record, c *chain) {
			r.Keys["0000000000000000"] = r.Keys[c.keyID()]
		},
		"does not follow the one before it": func(r *record.Record, _ *chain) { r.Seals[0].Previous = "00" },
		"is not signed by its key": func(r *record.Record, _ *chain) {
			r.Seals[0].Signature = r.Seals[1].Signature
		},
		"stands in the place of another":           func(r *record.Record, _ *chain) { r.School.ID = "other" },
		"is of another lesson":                     func(r *record.Record, _ *chain) { r.Lesson.ID = "other" },
		"as the last of the chain, and holds seal": func(r *record.Record, _ *chain) { r.Head.Number = 3 },
		"is of format 9, and format 1 is known":    func(r *record.Record, _ *chain) { r.Format = 9 },
		"this is no record of a lesson":            func(r *record.Record, _ *chain) { r.Kind = "letter" },
		"does not keep event 01900000-0000-7000-80": func(r *record.Record, c *chain) {
			r.Seals = append(r.Seals[:1], fewer(t, r.Seals[0], c))
		},
	} {
		r, c := signed(t)
		spoil(&r, c)
		_, err := record.Verify(write(t, r, c))
		assert.ErrorContains(t, err, want)
	}
}

// fewer is a second signature that leaves an event of the first out.
func fewer(t *testing.T, e record.Exported, c *chain) record.Exported {
	content, err := record.ReadSeal(e.Format, e.Content)
	require.NoError(t, err)
	content.Events = content.Events[:3]
	return c.seal(content)
}

func FuzzVerify(f *testing.F) {
	r, c := signed(f)
	f.Add(write(f, r, c))
	f.Add([]byte(`{"kind":"jetprimer-record","format":1,"seals":[{"content":null}],"proof":{}}`))
	f.Fuzz(func(t *testing.T, file []byte) {
		parsertest.Run(t, file, func() {
			if found, err := record.Verify(file); err == nil {
				require.NotEmpty(t, found.Signed)
			}
		})
	})
}

// TestACorrectionProvesItself: the file of a corrected lesson tells both results, and
// the file from before it still proves what was signed then.
func TestACorrectionProvesItself(t *testing.T) {
	r, c := signed(t)
	before := write(t, r, c)
	var first record.Seal
	require.NoError(t, json.Unmarshal(r.Seals[0].Content, &first))
	result := *first.Result
	level, fixed := 4, lesson.Event{ID: "01900000-0000-7000-8000-00000000000a", Device: "tablet", Seq: 9, Counter: 9,
		AtMs: 9000, Wall: "2026-11-25T09:00:00Z", Kind: lesson.KindCorrection, V: 1,
		Payload: json.RawMessage(`{"item":"beacon","mark":"done","why":"it was another student's prompt"}`)}
	result.Corrections = []lesson.Correction{
		{Event: fixed.ID, Item: "beacon", Mark: "done", Level: &level, Why: "it was another student's prompt"},
	}
	second := record.Seal{
		Subject: record.OfLesson, Lesson: "lesson", Event: "g", Result: &result, SignedBy: "i", Signer: "Tunde Okonjo",
		How: "password", Events: append(first.Events, fixed.Canonical()),
	}
	ids := []string{}
	for _, e := range second.Events {
		var named struct{ ID string }
		require.NoError(t, json.Unmarshal(e, &named))
		ids = append(ids, named.ID)
	}
	result.EventHash = lesson.SetHash(ids)
	r.Seals = append(r.Seals, c.seal(second))
	r.Head = record.Head{Number: c.n, Hash: r.Seals[2].Hash}
	after := write(t, r, c)

	found, err := record.Verify(before)
	require.NoError(t, err)
	assert.Nil(t, found.State.Items[1].First)
	found, err = record.Verify(after)
	require.NoError(t, err)
	require.NotNil(t, found.State.Items[1].First)
	assert.Equal(t, 4, *found.State.Items[1].Level)
	assert.Equal(t, result.Items[1].Level, found.State.Items[1].First.Level, "what was signed first stands beside it")
	assert.Contains(t, found.Line(), "1 mark was corrected after the first signature")
}
