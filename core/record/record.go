package record

import (
	"bytes"
	"crypto/ed25519"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"jetprimer/core/aircraft"
	"jetprimer/core/form"
	"jetprimer/core/lesson"
)

// Format is the form in which records are exported now.
const Format = 1

// Kind is what a record's file says it is.
const Kind = "jetprimer-record"

// MaxBytes bounds a record's file.
const MaxBytes = 32 << 20

// Record is the record of one lesson as a file that proves itself: every seal
// on it as it stands in the school's chain, the public keys, and what a reader
// needs beside them. Proof signs all of it.
type Record struct {
	Kind   string `json:"kind"`
	Format int    `json:"format"`
	// ExportedAt is an RFC 3339 time.
	ExportedAt string `json:"exportedAt"`
	School     Party  `json:"school"`
	Lesson     Lesson `json:"lesson"`
	// Type and Scale are those that the lesson was worked with.
	Type  aircraft.Type `json:"type"`
	Scale lesson.Scale  `json:"scale"`
	// List names the list and its version; Items are its items as flown, in their
	// order.
	List  string `json:"list"`
	Items []Item `json:"items"`
	// Seals are the lesson's, the oldest first.
	Seals []Exported `json:"seals"`
	// Unsigned are events that came after the last signature: nobody has signed
	// them.
	Unsigned []json.RawMessage `json:"unsigned"`
	// Keys are the public keys, in hexadecimal, by their ids.
	Keys map[string]string `json:"keys"`
	// Head is the last seal of the school's chain at the export.
	Head  Head   `json:"head"`
	Proof *Proof `json:"proof,omitempty"`
}

// Party is a person or a school, by id and name.
type Party struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Lesson says which lesson a record is of.
type Lesson struct {
	ID         string `json:"id"`
	Student    Party  `json:"student"`
	Instructor Party  `json:"instructor"`
	Aircraft   string `json:"aircraft"`
	// Day is the school's.
	Day string `json:"day"`
}

// Item is one item of the list as flown.
type Item struct {
	ID        string `json:"id"`
	Phase     string `json:"phase"` // its title
	Challenge string `json:"challenge"`
}

// Exported is a seal in its place of the chain, hashes in hexadecimal. By is
// the name of who signed.
type Exported struct {
	Number    int64           `json:"number"`
	Format    int             `json:"format"`
	By        Party           `json:"by"`
	At        string          `json:"at"`
	Content   json.RawMessage `json:"content"`
	Previous  string          `json:"previous"`
	Hash      string          `json:"hash"`
	KeyID     string          `json:"keyId"`
	Signature string          `json:"signature"`
}

// Head is a place in the chain: how many seals, and the hash of the last.
type Head struct {
	Number int64  `json:"number"`
	Hash   string `json:"hash"`
}

// Proof is the school's signature over the SHA-256 of a record without it.
type Proof struct {
	KeyID     string `json:"keyId"`
	Signature string `json:"signature"`
}

// digest is what the proof of a record signs.
func (r Record) digest() ([]byte, error) {
	r.Proof = nil
	body, err := json.Marshal(r)
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256(append([]byte(Kind+"\n"), body...))
	return sum[:], nil
}

// Write signs a record with one of its keys and gives the file: its one form,
// byte for byte, with a line's end.
func (r Record) Write(keyID string, key ed25519.PrivateKey) ([]byte, error) {
	digest, err := r.digest()
	if err != nil {
		return nil, fmt.Errorf("writing the record: %w", err)
	}
	r.Proof = &Proof{keyID, hex.EncodeToString(ed25519.Sign(key, digest))}
	out, err := json.Marshal(r)
	if err != nil {
		return nil, fmt.Errorf("writing the record: %w", err)
	}
	return append(out, '\n'), nil
}

// Signed is one signature found good.
type Signed struct {
	// Subject is lesson, or acknowledgement: the student's answer.
	Subject string `json:"subject"`
	By      string `json:"by"`
	At      string `json:"at"`
	How     string `json:"how,omitempty"`
	Number  int64  `json:"number"`
	Hash    string `json:"hash"`
	KeyID   string `json:"keyId"`
	Events  int    `json:"events"`
	Rules   string `json:"rules,omitempty"`
	// Refused says that the student did not agree; Words are theirs.
	Refused bool   `json:"refused,omitempty"`
	Words   string `json:"words,omitempty"`
}

// Found is what a record was found to be.
type Found struct {
	Record Record `json:"record"`
	// State is the result that the first signature sealed, with what later ones
	// corrected; what was signed first stands beside it.
	State  lesson.State `json:"state"`
	Signed []Signed     `json:"signed"`
	// Hash is that of the newest seal: it names the record as it was signed last,
	// and its grade sheet prints it.
	Hash string `json:"hash"`
	// Flag is what is to be known of how the lesson came to be, as it was signed first.
	Flag string `json:"flag,omitempty"`

	first lesson.State
}

// Line says in one line what was signed by whom.
func (f Found) Line() string {
	var said []string
	for _, s := range f.Signed {
		switch {
		case s.Subject == OfLesson:
			said = append(said,
				fmt.Sprintf("signed by %s on %s (seal %d, key %s, %d events, rules %s)", s.By, s.At, s.Number, s.KeyID,
					s.Events, s.Rules))
		case s.Refused:
			said = append(said, fmt.Sprintf("refused by %s on %s (seal %d): %s", s.By, s.At, s.Number, s.Words))
		default:
			said = append(said, fmt.Sprintf("acknowledged by %s on %s (seal %d)", s.By, s.At, s.Number))
		}
	}
	l := f.Record.Lesson
	what := fmt.Sprintf("lesson of %s with %s in", l.Student.Name, l.Instructor.Name)
	if f.State.Opened.Run() {
		what = fmt.Sprintf("maintenance run of %s on", l.Instructor.Name)
	}
	line := fmt.Sprintf("%s %s on %s at %s: %s", what, l.Aircraft, l.Day, f.Record.School.Name,
		strings.Join(said, "; "))
	if n := len(f.State.Corrections); n == 1 {
		line += "; 1 mark was corrected after the first signature"
	} else if n > 1 {
		line += fmt.Sprintf("; %d marks were corrected after the first signature", n)
	}
	if n := len(f.Record.Unsigned); n > 0 {
		line += fmt.Sprintf("; %d later events are not signed", n)
	}
	return line
}

// ErrNoRecord says that a file is no record at all.
var ErrNoRecord = errors.New("this is no record of a lesson")

// Verify proves a record's file by itself: that it is written in its one form,
// that the school's key signed all of it, and that every seal in it is signed
// by its key over just the content that it has. The error says what differs.
// Whose the key is nobody can tell from the file: hold its id to the one that
// the school shows.
func Verify(file []byte) (Found, error) {
	var r Record
	if len(file) > MaxBytes {
		return Found{}, fmt.Errorf("%w: it is larger than %d bytes", ErrNoRecord, MaxBytes)
	}
	if form.Depth(file) > form.MaxDepth {
		return Found{}, fmt.Errorf("%w: it nests too deep", ErrNoRecord)
	}
	d := json.NewDecoder(bytes.NewReader(file))
	d.DisallowUnknownFields()
	if err := d.Decode(&r); err != nil {
		return Found{}, fmt.Errorf("%w: %v", ErrNoRecord, err)
	}
	switch {
	case r.Kind != Kind:
		return Found{}, ErrNoRecord
	case r.Format != Format:
		return Found{}, fmt.Errorf("the record is of format %d, and format %d is known", r.Format, Format)
	case r.Proof == nil:
		return Found{}, errors.New("the record is not signed by the school that exported it")
	}
	again, err := json.Marshal(r)
	if err != nil || !bytes.Equal(append(again, '\n'), file) {
		return Found{},
			errors.New("the file is not written as records are: a byte was changed, or a program wrote it anew")
	}
	keys := map[string][]byte{}
	for id, text := range r.Keys {
		public, err := unhex(text)
		if err != nil || len(public) != ed25519.PublicKeySize || KeyID(public) != id {
			return Found{}, fmt.Errorf("key %s is not the one it is named after", form.Clip(id))
		}
		keys[id] = public
	}
	digest, err := r.digest()
	if err != nil {
		return Found{}, err
	}
	signature, err := unhex(r.Proof.Signature)
	if err != nil || keys[r.Proof.KeyID] == nil || !ed25519.Verify(keys[r.Proof.KeyID], digest, signature) {
		return Found{}, errors.New("the record is not as the school signed it: something in it was changed")
	}
	f := Found{Record: r, Signed: []Signed{}}
	if err := f.seals(keys); err != nil {
		return Found{}, err
	}
	return f, nil
}

// unhex reads hexadecimal in its one form, small letters.
func unhex(text string) ([]byte, error) {
	out, err := hex.DecodeString(text)
	if err == nil && hex.EncodeToString(out) != text {
		err = errors.New("capital letters in hexadecimal")
	}
	return out, err
}

// link is an exported seal as it stands in the chain.
func (e Exported) link() (Link, error) {
	k := Link{Number: e.Number, Format: e.Format, Content: e.Content, KeyID: e.KeyID}
	for _, part := range []struct {
		text string
		into *[]byte
	}{{e.Previous, &k.Previous}, {e.Hash, &k.Hash}, {e.Signature, &k.Signature}} {
		var err error
		if *part.into, err = unhex(part.text); err != nil {
			return k, fmt.Errorf("seal %d cannot be read: %v", e.Number, err)
		}
	}
	return k, nil
}

// seals checks each seal, and that each keeps what the earlier ones kept.
func (f *Found) seals(keys map[string][]byte) error {
	r := f.Record
	last, lessons := int64(0), map[string]bool{}
	content := map[string][]byte{} // of sealed events, by id
	for _, e := range r.Seals {
		k, err := e.link()
		if err != nil {
			return err
		}
		c, err := k.Check(r.School.ID, e.Number, k.Previous, keys[e.KeyID])
		switch {
		case err != nil:
			return err
		case e.Number <= last:
			return fmt.Errorf("seal %d stands before seal %d", last, e.Number)
		case c.Lesson != r.Lesson.ID:
			return fmt.Errorf("seal %d is of another lesson", e.Number)
		case c.Format > 1 && (c.SignedBy != e.By.ID || c.SignedAt != e.At), c.Signer != "" && c.Signer != e.By.Name:
			return fmt.Errorf("seal %d was signed by somebody else, or at another time, than the record says", e.Number)
		}
		last = e.Number
		s := Signed{
			Subject: c.Subject, By: e.By.Name, At: e.At, How: c.How, Number: e.Number, Hash: e.Hash, KeyID: e.KeyID,
			Events: len(c.Events),
		}
		switch c.Subject {
		case OfLesson:
			if err := f.sealed(c, content); err != nil {
				return fmt.Errorf("seal %d: %w", e.Number, err)
			}
			if len(lessons) == 0 {
				f.Flag = c.Flag
			}
			s.Rules = c.Result.RulesVersion
			lessons[e.Hash] = true
		case OfAcknowledgement:
			if !lessons[c.Of] || c.Answer == nil || c.SignedBy != r.Lesson.Student.ID {
				return fmt.Errorf("seal %d acknowledges something else", e.Number)
			}
			s.Refused, s.Words = c.Answer.Refused, c.Answer.Words
		default:
			return fmt.Errorf("seal %d is of no lesson", e.Number)
		}
		f.Signed, f.Hash = append(f.Signed, s), e.Hash
	}
	switch {
	case len(lessons) == 0:
		return errors.New("the record has no signature of its instructor")
	case r.Head.Number < last:
		return fmt.Errorf("the record names seal %d as the last of the chain, and holds seal %d", r.Head.Number, last)
	}
	return nil
}

// sealed checks the events of a lesson's seal, and takes them in.
func (f *Found) sealed(c Seal, content map[string][]byte) error {
	if c.Result == nil || c.Result.Opened == nil {
		return errors.New("keeps no result")
	}
	o := c.Result.Opened
	l := f.Record.Lesson
	if o.Student != l.Student.ID || o.Instructor != l.Instructor.ID || o.Aircraft != l.Aircraft ||
		o.AircraftType != f.Record.Type.ID || o.TypeVersion != f.Record.Type.Version {
		return errors.New("is of another student, instructor or aircraft than the record says")
	}
	ids := []string{}
	for _, e := range c.Events {
		var named struct{ ID string }
		if err := json.Unmarshal(e, &named); err != nil {
			return fmt.Errorf("keeps an event that cannot be read: %v", err)
		}
		if before, known := content[named.ID]; known && !bytes.Equal(before, e) {
			return fmt.Errorf("keeps event %s with another content than an earlier seal", named.ID)
		}
		content[named.ID] = e
		ids = append(ids, named.ID)
	}
	for id := range content {
		if !slices.Contains(ids, id) {
			return fmt.Errorf("does not keep event %s, which an earlier seal kept", id)
		}
	}
	if lesson.SetHash(ids) != c.Result.EventHash {
		return errors.New("keeps other events than its result was made of")
	}
	if f.State.Opened == nil {
		f.State = *c.Result
		f.State.Fill()
		f.first = f.State
		return nil
	}
	corrections := slices.Clone(c.Result.Corrections)
	for i := range corrections {
		corrections[i].Signed = true // by this very seal
	}
	f.State = f.first.Corrected(corrections)
	return nil
}
