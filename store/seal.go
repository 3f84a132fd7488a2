package store

import (
	"bytes"
	"crypto/aes"
	"crypto/cipher"
	"crypto/ed25519"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"jetprimer/core/lesson"
)

// ErrStale says that the person signs something else than is held: more events
// have come since their screen was drawn.
var ErrStale = errors.New("the lesson has changed since it was shown")

// ErrUnsettled says that something has to be decided before signing.
var ErrUnsettled = errors.New("the lesson cannot be signed yet")

// sealContent is what a seal keeps: the exact events and the result that its
// rules gave.
type sealContent struct {
	School string            `json:"school"`
	Lesson string            `json:"lesson"`
	Number int64             `json:"number"`
	KeyID  string            `json:"keyId"`
	Events []json.RawMessage `json:"events"`
	Result lesson.State      `json:"result"`
}

// Sign seals every event of the lesson now held. shown is the event hash of
// the state that the person saw.
func (tx *Tx) Sign(id, shown string, by Sender, event string, now time.Time) error {
	seq, err := tx.bump()
	if err != nil {
		return err
	}
	row, err := tx.Lesson(id)
	if err != nil {
		return err
	}
	if row.InstructorID != by.ID {
		return &BatchError{"lesson", "is signed by its own instructor and nobody else"}
	}
	events, err := tx.Events(id)
	if err != nil {
		return err
	}
	l, _, err := tx.fold(events)
	if err != nil {
		return err
	}
	state := l.State()
	switch {
	case state.EventHash != shown:
		return ErrStale
	case !state.Ended:
		return fmt.Errorf("%w: it has not been ended", ErrUnsettled)
	case len(state.Problems) > 0:
		return fmt.Errorf("%w: %s", ErrUnsettled, state.Problems[0].Message)
	case len(state.Seals) > 0 && len(unsigned(state)) == 0:
		return fmt.Errorf("%w: it is signed, and nothing has been added since", ErrUnsettled)
	}
	number, previous, err := tx.link()
	if err != nil {
		return err
	}
	keyID, key, err := tx.signingKey(now)
	if err != nil {
		return err
	}
	content := sealContent{School: tx.School, Lesson: id, Number: number, KeyID: keyID, Result: state}
	for _, e := range l.Content() {
		content.Events = append(content.Events, e)
	}
	canonical, err := json.Marshal(content)
	if err != nil {
		return err
	}
	result, err := json.Marshal(state)
	if err != nil {
		return err
	}
	resultHash := sha256.Sum256(result)
	payload, err := json.Marshal(l.Seal(by.ID, hex.EncodeToString(resultHash[:])))
	if err != nil {
		return err
	}
	sealed := lesson.Event{ID: event, Device: "school", Seq: number, Counter: l.LastCounter() + 1, AtMs: state.DurationMs,
		Wall: now.UTC().Format(time.RFC3339), Kind: lesson.KindSealed, V: 1, Payload: payload}
	if err := sealed.Validate(); err != nil {
		return fmt.Errorf("sealing: %w", err)
	}
	if _, err := tx.insert(id, []lesson.Event{sealed}, by.ID, now); err != nil {
		return err
	}
	chained := sha256.Sum256(append(bytes.Clone(previous), canonical...))
	if err := tx.db.Exec(`insert into seals (school_id, number, lesson_id, event_id, content, previous, hash, key_id, signature, signed_by, signed_at)
		values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, tx.School, number, id, event, canonical, previous, chained[:], keyID,
		ed25519.Sign(key, chained[:]), by.ID, now).Error; err != nil {
		return fmt.Errorf("keeping the seal: %w", err)
	}
	if err := tx.db.Exec("update school_feed set chain = ? where school_id = ?", chained[:], tx.School).Error; err != nil {
		return err
	}
	if err := tx.derive(id, append(events, sealed)); err != nil {
		return err
	}
	if err := tx.changed(seq, "student", row.StudentID); err != nil {
		return err
	}
	return tx.changed(seq, "lesson", id)
}

func unsigned(state lesson.State) []lesson.Addendum {
	var out []lesson.Addendum
	for _, a := range state.Addenda {
		if !a.Signed {
			out = append(out, a)
		}
	}
	return out
}

// link takes the next number and the hash of the school's last seal.
func (tx *Tx) link() (number int64, previous []byte, err error) {
	type head struct {
		Seals int64
		Chain []byte
	}
	h, err := row[head](tx, "update school_feed set seals = seals + 1 where school_id = ? returning seals, chain", tx.School)
	if err != nil {
		return 0, nil, fmt.Errorf("taking the next seal: %w", err)
	}
	if h.Chain == nil {
		h.Chain = []byte{}
	}
	return h.Seals, h.Chain, nil
}

// signingKey is the school's newest key, made when there is none.
func (tx *Tx) signingKey(now time.Time) (string, ed25519.PrivateKey, error) {
	block, err := aes.NewCipher(tx.secret[:])
	if err != nil {
		return "", nil, err
	}
	box, err := cipher.NewGCM(block)
	if err != nil {
		return "", nil, err
	}
	type kept struct {
		ID      string
		Private []byte
	}
	k, err := row[kept](tx, "select id, private from signing_keys where school_id = ? order by made_at desc, id limit 1", tx.School)
	if err == nil {
		if len(k.Private) < box.NonceSize() {
			return "", nil, errors.New("the signing key is damaged")
		}
		seed, err := box.Open(nil, k.Private[:box.NonceSize()], k.Private[box.NonceSize():], []byte(tx.School))
		if err != nil {
			return "", nil, errors.New("the signing key cannot be opened: the secret is not the one it was kept under")
		}
		return k.ID, ed25519.NewKeyFromSeed(seed), nil
	}
	if !errors.Is(err, ErrNotFound) {
		return "", nil, err
	}
	public, private, err := ed25519.GenerateKey(rand.Reader)
	if err != nil {
		return "", nil, err
	}
	nonce := make([]byte, box.NonceSize())
	if _, err := rand.Read(nonce); err != nil {
		return "", nil, err
	}
	sum := sha256.Sum256(public)
	id := hex.EncodeToString(sum[:8])
	err = tx.db.Exec("insert into signing_keys (school_id, id, public, private, made_at) values (?, ?, ?, ?, ?)",
		tx.School, id, []byte(public), box.Seal(nonce, nonce, private.Seed(), []byte(tx.School)), now).Error
	if err != nil {
		return "", nil, fmt.Errorf("keeping a signing key: %w", err)
	}
	return id, private, nil
}

// sealedState puts the result of a lesson's first seal in the place of what
// today's rules make of the same events.
func (tx *Tx) sealedState(id string, folded lesson.State) (lesson.State, error) {
	if len(folded.Seals) == 0 {
		return folded, nil
	}
	content, err := row[[]byte](tx, "select content from seals where school_id = ? and lesson_id = ? order by number limit 1", tx.School, id)
	if err != nil {
		return folded, fmt.Errorf("reading the seal: %w", err)
	}
	var seal sealContent
	if err := json.Unmarshal(content, &seal); err != nil {
		return folded, fmt.Errorf("reading the seal: %w", err)
	}
	state := seal.Result
	state.Seals, state.Addenda, state.Refused = folded.Seals, folded.Addenda, folded.Refused
	state.Events, state.EventHash, state.Acknowledged = folded.Events, folded.EventHash, folded.Acknowledged
	state.LastTouch = []string{}
	return state, nil
}

// VerifyChain checks every seal of the school: its place in the chain, its
// hash and its signature. It returns how many there are.
func (tx *Tx) VerifyChain() (int, error) {
	type kept struct {
		Number                                     int64
		Content, Previous, Hash, Signature, Public []byte
	}
	all, err := rows[kept](tx, `select s.number, s.content, s.previous, s.hash, s.signature, k.public
		from seals s join signing_keys k on k.school_id = s.school_id and k.id = s.key_id where s.school_id = ? order by s.number`, tx.School)
	if err != nil {
		return 0, fmt.Errorf("reading the seals: %w", err)
	}
	previous := []byte{}
	for i, k := range all {
		chained := sha256.Sum256(append(bytes.Clone(previous), k.Content...))
		switch {
		case k.Number != int64(i+1):
			return i, fmt.Errorf("seal %d is missing", i+1)
		case !bytes.Equal(k.Previous, previous) || !bytes.Equal(k.Hash, chained[:]):
			return i, fmt.Errorf("seal %d does not follow the one before it", k.Number)
		case !ed25519.Verify(k.Public, k.Hash, k.Signature):
			return i, fmt.Errorf("seal %d is not signed by its key", k.Number)
		}
		previous = chained[:]
	}
	return len(all), nil
}
