package store

import (
	"bytes"
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/ed25519"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"jetprimer/core/lesson"
	"jetprimer/core/record"
)

// seal chains and signs a content, and moves the head of the chain to it.
func (tx *Tx) seal(h head, content record.Seal, by Signer, now time.Time) error {
	keyID, key, err := tx.signingKey(now)
	if err != nil {
		return err
	}
	content.Format, content.School, content.Number, content.KeyID = record.SealFormat, tx.School, h.Seals+1, keyID
	content.Previous, content.SignedAt = hex.EncodeToString(h.Chain), now.UTC().Format(time.RFC3339Nano)
	content.SignedBy, content.Signer, content.How, content.Promised = by.ID, by.Name, by.How, by.Promised
	canonical, err := json.Marshal(content)
	if err != nil {
		return err
	}
	chained := record.Chained(h.Chain, canonical)
	row := sealRow{SchoolID: tx.School, Number: content.Number, Subject: content.Subject, Format: record.SealFormat,
		Content: canonical, Previous: bytes.Clone(h.Chain),
		Hash: chained, KeyID: keyID, Signature: ed25519.Sign(key, chained), SignedBy: by.ID, SignedAt: now}
	if row.Previous == nil {
		row.Previous = []byte{}
	}
	if content.Lesson != "" {
		row.LessonID, row.EventID = &content.Lesson, &content.Event
	}
	if err := tx.db.Create(&row).Error; err != nil {
		return fmt.Errorf("keeping the seal: %w", err)
	}
	if err := tx.db.Exec("update school_feed set seals = ?, chain = ? where school_id = ?", row.Number, chained,
		tx.School).Error; err != nil {
		return fmt.Errorf("moving the head of the chain: %w", err)
	}
	return nil
}

// Signer is who signs, and how they proved who they are: password, pin, passkey,
// or device for a promise.
type Signer struct {
	ID   string
	Name string
	How  string
	// Promised is when a device says that it was signed without the school.
	Promised string
}

// signing is a lesson under the school's lock, about to be sealed by somebody.
type signing struct {
	*Tx
	head   head
	row    Lesson
	known  *folded
	lesson *lesson.Lesson
	by     Signer
	now    time.Time
}

// signing takes the lock and reads the lesson; may says why the person does not
// sign it.
func (tx *Tx) signing(id string, by Signer, now time.Time, may func(Lesson) string) (s signing, err error) {
	s = signing{Tx: tx, by: by, now: now}
	if s.head, err = tx.bump(); err != nil {
		return s, err
	}
	if s.row, err = tx.Lesson(id); err != nil {
		return s, err
	}
	if why := may(s.row); why != "" {
		return s, refuse("lesson", why)
	}
	if s.known = tx.known(s.row); s.known == nil {
		events, err := tx.Events(id)
		if err != nil {
			return s, err
		}
		s.known = &folded{key: tx.School + id}
		if s.known.lesson, err = tx.fold(s.row, events); err != nil {
			return s, err
		}
	}
	s.lesson = s.known.lesson
	return s, nil
}

// event is the school's own event of a signature.
func (s signing) event(id, kind string, payload any) (lesson.Event, error) {
	data, err := json.Marshal(payload)
	return lesson.Event{ID: id, Device: "school", Seq: s.head.Seals + 1, Counter: s.lesson.LastCounter() + 1,
		AtMs: s.lesson.State().DurationMs,
		Wall: s.now.UTC().Format(time.RFC3339), Kind: kind, V: 1, Payload: data}, err
}

// keep keeps the signature's event with its seal, and derives what follows; the
// student's standing where the lesson counts towards it.
func (s signing) keep(e lesson.Event, content record.Seal, counts bool) error {
	content.Lesson, content.Event = s.row.ID, e.ID
	if err := s.insert(s.row.ID, []lesson.Event{e}, s.by.ID, s.now); err != nil {
		return fmt.Errorf("signing: %w", err)
	}
	e.By, e.Received = s.by.ID, s.now.UTC().Format(time.RFC3339)
	if answers := s.lesson.Add(e); answers[0].Status != "held" {
		return fmt.Errorf("signing: the signature's own event was %s: %s", answers[0].Status, answers[0].Reason)
	}
	if err := s.seal(s.head, content, s.by, s.now); err != nil {
		return err
	}
	if _, err := s.derive(s.row, s.known, s.head.Seq); err != nil {
		return err
	}
	s.keepKnown(s.known, s.head.Seq)
	if counts {
		if err := s.deriveStandings(s.row.StudentID); err != nil {
			return fmt.Errorf("deriving the student's standing: %w", err)
		}
		if err := s.changed(s.head.Seq, "student", s.row.StudentID); err != nil {
			return err
		}
	}
	return s.changed(s.head.Seq, "lesson", s.row.ID)
}

// Sign seals every event of the lesson now held. shown is the event hash of
// the state that the person saw, event the id that the signature's event is to
// have. Signing again what the same person has signed, and nothing has been
// added to since, is the same as signing once: an answer may have been lost.
func (tx *Tx) Sign(id, shown string, by Signer, event string, now time.Time) error {
	s, err := tx.signing(id, by, now, func(l Lesson) string {
		if l.InstructorID != by.ID {
			return "is signed by who gave or worked it, and nobody else"
		}
		return ""
	})
	if err != nil {
		return err
	}
	state := s.lesson.State()
	switch {
	case signedAlready(state, by.ID, shown):
		return nil
	case state.EventHash != shown:
		return ErrStale
	case !state.Ended:
		return fmt.Errorf("%w: it has not been ended", ErrUnsettled)
	case len(state.Problems) > 0:
		return fmt.Errorf("%w: %s", ErrUnsettled, state.Problems[0].Message)
	case s.lesson.Has(event):
		return refuse("event", "is the id of another event of this lesson; sign with a new one")
	}
	result, err := json.Marshal(state)
	if err != nil {
		return err
	}
	sum := sha256.Sum256(result)
	sealed, err := s.event(event, lesson.KindSealed, s.lesson.Seal(by.ID, hex.EncodeToString(sum[:])))
	if err != nil {
		return err
	}
	content := record.Seal{Subject: record.OfLesson, Arrivals: s.lesson.Arrivals(), Flag: s.row.Flag, Result: &state}
	for _, e := range s.lesson.Content() {
		content.Events = append(content.Events, e)
	}
	return s.keep(sealed, content, !s.row.Run())
}

// Acknowledge seals the student's answer to the newest signature of their
// lesson. of is the hash of the seal that they saw, event the id that the
// answer's event is to have.
func (tx *Tx) Acknowledge(id, of string, answer lesson.Answered, by Signer, event string, now time.Time) error {
	s, err := tx.signing(id, by, now, func(l Lesson) string {
		if l.StudentID != by.ID {
			return "is acknowledged by its own student and nobody else"
		}
		return ""
	})
	if err != nil {
		return err
	}
	last, err := take[sealRow](tx.own(&sealRow{}).Where("lesson_id = ? and subject = ?", id,
		record.OfLesson).Order("number desc"))
	switch {
	case errors.Is(err, ErrNotFound):
		return fmt.Errorf("%w: its instructor has not signed it yet", ErrUnsettled)
	case err != nil:
		return err
	case hex.EncodeToString(last.Hash) != of:
		return ErrStale
	case s.lesson.Has(event):
		return refuse("event", "is the id of another event of this lesson; answer with a new one")
	}
	answered, err := s.event(event, lesson.KindAcknowledged, answer)
	if err != nil {
		return err
	}
	if err := answered.Validate(); err != nil {
		return refuse("body", err.Error())
	}
	s.by.Name = "" // a student's name is not sealed: it may be asked to be erased
	return s.keep(answered, record.Seal{
		Subject: record.OfAcknowledgement, Events: []json.RawMessage{answered.Canonical()}, Of: of, Answer: &answer,
	}, false)
}

// signedAlready reports whether the person has signed just what they were
// shown, or all that there is.
func signedAlready(state lesson.State, by, shown string) bool {
	if len(state.Seals) == 0 {
		return false
	}
	for _, a := range state.Addenda {
		if !a.Signed {
			return false
		}
	}
	last := state.Seals[len(state.Seals)-1]
	return last.SignedBy == by && (last.Hash == shown || state.EventHash == shown)
}

// boxed is what the installation's secret, or the key of a moved school's file,
// keeps closed: AES-256-GCM, its nonce first.
type boxed struct{ cipher.AEAD }

func newBox(key []byte) (boxed, error) {
	block, err := aes.NewCipher(key)
	if err != nil {
		return boxed{}, err
	}
	box, err := cipher.NewGCM(block)
	return boxed{box}, err
}

// unbox opens what is kept, bound to what it is of.
func (b boxed) unbox(kept, of []byte) ([]byte, error) {
	if len(kept) < b.NonceSize() {
		return nil, errors.New("what is kept encrypted is damaged")
	}
	return b.Open(nil, kept[:b.NonceSize()], kept[b.NonceSize():], of)
}

// rebox closes a secret under a nonce.
func (b boxed) rebox(secret, of, nonce []byte) []byte {
	return b.Seal(slices.Clone(nonce), nonce, secret, of)
}

func (s *Store) unbox(kept, of []byte) ([]byte, error) {
	box, err := newBox(s.secret[:])
	if err != nil {
		return nil, err
	}
	return box.unbox(kept, of)
}

func (s *Store) rebox(secret, of []byte) ([]byte, error) {
	box, err := newBox(s.secret[:])
	if err != nil {
		return nil, err
	}
	nonce := make([]byte, box.NonceSize())
	if _, err := rand.Read(nonce); err != nil {
		return nil, err
	}
	return box.rebox(secret, of, nonce), nil
}

// open decrypts a private key.
func (s *Store) open(k signingKey) (ed25519.PrivateKey, error) {
	seed, err := s.unbox(k.Private, []byte(k.SchoolID))
	if err != nil {
		return nil, errors.New("the signing key cannot be opened: the secret is not the one it was kept under")
	}
	return ed25519.NewKeyFromSeed(seed), nil
}

// signingKey is the school's newest key, made when there is none.
func (tx *Tx) signingKey(now time.Time) (string, ed25519.PrivateKey, error) {
	k, err := take[signingKey](tx.own(&signingKey{}).Order("made_at desc, id"))
	if err == nil {
		key, err := tx.store.open(k)
		return k.ID, key, err
	}
	if !errors.Is(err, ErrNotFound) {
		return "", nil, err
	}
	return tx.newKey(now)
}

// RotateKey makes the key that signs from now on, and gives its fingerprint. The older ones
// stay: what they signed is proved by them for good.
func (tx *Tx) RotateKey(now time.Time) (string, error) {
	if _, err := tx.bump(); err != nil {
		return "", err
	}
	_, key, err := tx.newKey(now)
	if err != nil {
		return "", err
	}
	return record.Fingerprint(key.Public().(ed25519.PublicKey)), nil
}

// newKey makes and keeps a signing key.
func (tx *Tx) newKey(now time.Time) (string, ed25519.PrivateKey, error) {
	public, private, err := ed25519.GenerateKey(rand.Reader)
	if err != nil {
		return "", nil, err
	}
	kept, err := tx.store.rebox(private.Seed(), []byte(tx.School))
	if err != nil {
		return "", nil, err
	}
	k := signingKey{SchoolID: tx.School, ID: record.KeyID(public), Public: public, Private: kept, MadeAt: now}
	if err := tx.db.Create(&k).Error; err != nil {
		return "", nil, fmt.Errorf("keeping a signing key: %w", err)
	}
	return k.ID, private, nil
}

// CheckSecret refuses a secret that does not open the key of a school that has
// signed: what it would sign nobody could sign again.
func (s *Store) CheckSecret(ctx context.Context) error {
	schools := []School{}
	if err := s.db.WithContext(ctx).Limit(3).Order("created_at").Find(&schools).Error; err != nil {
		return fmt.Errorf("looking at the schools: %w", plain(err))
	}
	for _, one := range schools {
		err := s.In(ctx, one.ID, func(_ context.Context, tx *Tx) error {
			k, err := take[signingKey](tx.own(&signingKey{}).Order("made_at desc, id"))
			if errors.Is(err, ErrNotFound) {
				return nil
			}
			if err == nil {
				_, err = s.open(k)
			}
			return err
		})
		if err != nil {
			return fmt.Errorf("opening the store: %w", err)
		}
	}
	return nil
}

// sealedState puts the result of a lesson's first seal in the place of what
// today's rules make of the same events. What is signed is told by its seal
// alone: a signature's event without one signs nothing.
func (tx *Tx) sealedState(id string, state lesson.State) (lesson.State, error) {
	if len(state.Seals) == 0 {
		return state, nil
	}
	kept, err := find[sealRow](tx.own(&sealRow{}).Where("lesson_id = ? and subject = ?", id,
		record.OfLesson).Order("number"))
	if err == nil && len(kept) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return state, fmt.Errorf("reading the seal of lesson %s: %w", id, err)
	}
	c, err := record.ReadSeal(kept[0].Format, kept[0].Content)
	if err != nil {
		return state, err
	}
	for i := range state.Seals {
		for _, k := range kept {
			if k.EventID != nil && *k.EventID == state.Seals[i].Event {
				state.Seals[i].Seal = hex.EncodeToString(k.Hash)
			}
		}
	}
	sealed := *c.Result
	sealed.Seals, sealed.Addenda, sealed.Refused = state.Seals, state.Addenda, state.Refused
	sealed.Events, sealed.EventHash, sealed.Acknowledged = state.Events, state.EventHash, state.Acknowledged
	sealed.Answer, sealed.Self = state.Answer, state.Self
	sealed.LastTouch = []string{}
	sealed.Fill()
	return sealed.Corrected(state.Corrections), nil
}
