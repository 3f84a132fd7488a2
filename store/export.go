package store

import (
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"jetprimer/core/record"
)

// Export is the record of a signed lesson as a file that proves itself, and
// what it was found to be: what cannot be proved is not given away.
func (tx *Tx) Export(id string, now time.Time) ([]byte, record.Found, error) {
	row, err := tx.Lesson(id)
	if err != nil {
		return nil, record.Found{}, err
	}
	r := record.Record{Kind: record.Kind, Format: record.Format, ExportedAt: now.UTC().Format(time.RFC3339),
		Seals: []record.Exported{}, Unsigned: []json.RawMessage{}, Keys: map[string]string{},
		Lesson: record.Lesson{
			ID: id, Student: record.Party{ID: row.StudentID, Name: row.Student},
			Instructor: record.Party{ID: row.InstructorID, Name: row.Instructor}, Aircraft: row.Registration,
			Day: tx.Day(row.OpenedAt),
		}}
	r.School.ID = tx.School
	if r.School.Name, err = tx.SchoolName(); err != nil {
		return nil, record.Found{}, fmt.Errorf("reading the school: %w", err)
	}
	if err := tx.exportSeals(id, &r); err != nil {
		return nil, record.Found{}, err
	}
	state, book, _, err := tx.State(row)
	if err != nil {
		return nil, record.Found{}, err
	}
	r.Type, r.List, r.Items = book.Type, fmt.Sprintf("%s, version %d", book.List.Title,
		book.List.Version), []record.Item{}
	for _, p := range book.List.Places() {
		r.Items = append(r.Items, record.Item{
			ID: p.Item.ID, Phase: book.List.Phases[p.Phase].Title, Challenge: p.Item.Challenge,
		})
	}
	if r.Scale, _ = tx.store.shipped.Scale(state.Opened.Scale); r.Scale.ID == "" {
		r.Scale.ID = state.Opened.Scale
	}
	h, err := take[head](tx.db.Table("school_feed").Where("school_id = ?", tx.School))
	if err != nil {
		return nil, record.Found{}, fmt.Errorf("reading the head of the chain: %w", err)
	}
	r.Head = record.Head{Number: h.Seals, Hash: hex.EncodeToString(h.Chain)}
	keyID, key, err := tx.signingKey(now)
	if err != nil {
		return nil, record.Found{}, err
	}
	public, err := take[signingKey](tx.own(&signingKey{}).Where("id = ?", keyID))
	if err != nil {
		return nil, record.Found{}, fmt.Errorf("reading the key: %w", err)
	}
	r.Keys[keyID] = hex.EncodeToString(public.Public)
	file, err := r.Write(keyID, key)
	if err != nil {
		return nil, record.Found{}, err
	}
	found, err := record.Verify(file)
	if err != nil {
		return nil, found, fmt.Errorf("the record of lesson %s does not prove itself: %w", id, err)
	}
	return file, found, nil
}

// exportSeals puts a lesson's seals, their keys and what nobody has signed into
// a record.
func (tx *Tx) exportSeals(id string, r *record.Record) error {
	seals, err := find[sealRow](tx.own(&sealRow{}).Where("lesson_id = ?", id).Order("number"))
	switch {
	case err != nil:
		return fmt.Errorf("reading the seals: %w", err)
	case len(seals) == 0:
		return fmt.Errorf("%w: it has not been signed", ErrUnsettled)
	}
	sealed := map[string]bool{}
	names, err := tx.People()
	if err != nil {
		return err
	}
	name := map[string]string{}
	for _, p := range names {
		name[p.ID] = p.Name
	}
	for _, k := range seals {
		c, err := record.ReadSeal(k.Format, k.Content)
		if err != nil {
			return err
		}
		sealed[*k.EventID] = true
		for _, e := range c.Events {
			var named struct{ ID string }
			if err := json.Unmarshal(e, &named); err != nil {
				return fmt.Errorf("reading a sealed event: %w", err)
			}
			sealed[named.ID] = true
		}
		by := record.Party{ID: k.SignedBy, Name: c.Signer}
		if by.Name == "" {
			by.Name = name[k.SignedBy]
		}
		at := c.SignedAt
		if at == "" {
			at = k.SignedAt.UTC().Format(time.RFC3339Nano)
		}
		r.Seals = append(r.Seals,
			record.Exported{Number: k.Number, Format: k.Format, By: by, At: at, Content: k.Content,
				Previous: hex.EncodeToString(k.Previous),
				Hash:     hex.EncodeToString(k.Hash), KeyID: k.KeyID, Signature: hex.EncodeToString(k.Signature)})
		if r.Keys[k.KeyID] == "" {
			public, err := take[signingKey](tx.own(&signingKey{}).Where("id = ?", k.KeyID))
			if errors.Is(err, ErrNotFound) {
				return fmt.Errorf("seal %d has no key", k.Number)
			}
			if err != nil {
				return fmt.Errorf("reading the key: %w", err)
			}
			r.Keys[k.KeyID] = hex.EncodeToString(public.Public)
		}
	}
	events, err := tx.Events(id)
	if err != nil {
		return err
	}
	for _, e := range events {
		if !sealed[e.ID] {
			r.Unsigned = append(r.Unsigned, e.Canonical())
		}
	}
	return nil
}
