package store

import (
	"encoding/json"
	"errors"
	"fmt"

	"jetprimer/mail"
)

func lettersOf(school string) []byte { return []byte("letters " + school) }

// LetterServer is the server through which the school sends its letters; nil where
// it goes by that of the program.
func (tx *Tx) LetterServer() (*mail.Server, error) {
	s, err := take[School](tx.db.Where("id = ?", tx.School))
	if err != nil || s.Letters == nil {
		return nil, err
	}
	text, err := tx.store.unbox(s.Letters, lettersOf(tx.School))
	if err != nil {
		return nil, errors.New("the server for letters cannot be opened: the secret is not the one it was kept under")
	}
	var out mail.Server
	if err := json.Unmarshal(text, &out); err != nil {
		return nil, fmt.Errorf("reading the server for letters: %w", err)
	}
	return &out, nil
}

// SetLetterServer keeps the server through which the school sends its letters; nil
// goes back to that of the program.
func (tx *Tx) SetLetterServer(server *mail.Server) error {
	var kept []byte
	if server != nil {
		text, err := json.Marshal(server)
		if err != nil {
			return err
		}
		if kept, err = tx.store.rebox(text, lettersOf(tx.School)); err != nil {
			return err
		}
	}
	return plain(tx.db.Model(&School{}).Where("id = ?",
		tx.School).Select("Letters").Updates(School{Letters: kept}).Error)
}
