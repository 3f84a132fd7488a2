package store

import (
	"encoding/json"
	"time"
)

// KeptReport is a report as it was made, with what it rests on.
type KeptReport struct {
	Stamp  string
	MadeAt time.Time
	Body   string
}

// KeptReport is the newest report of a name; [ErrNotFound] where none is kept.
func (tx *Tx) KeptReport(name string) (KeptReport, error) {
	return row[KeptReport](tx,
		"select stamp, made_at, body::text as body from kept_reports where school_id = ? and name = ?",
		tx.School, name)
}

// KeepReport keeps a report in the place of the one before.
func (tx *Tx) KeepReport(name, stamp string, body json.RawMessage, now time.Time) error {
	return tx.db.Exec(`insert into kept_reports (school_id, name, stamp, made_at, body) values (?, ?, ?, ?, ?)
		on conflict (school_id, name) do update
			set stamp = excluded.stamp, made_at = excluded.made_at, body = excluded.body`,
		tx.School, name, stamp, now, string(body)).Error
}
