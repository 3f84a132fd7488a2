package store

import "time"

// Database is how a school stands in its database.
type Database struct {
	Schema    int64      `json:"schema"`
	Megabytes int64      `json:"megabytes" doc:"of the whole database"`
	Lessons   int64      `json:"lessons"`
	Events    int64      `json:"events"`
	Seals     int64      `json:"seals"`
	SealedAt  *time.Time `json:"sealedAt,omitempty" doc:"when the last seal was set"`
	Sessions  int64      `json:"sessions" doc:"where people of any school are signed in"`
}

// Database tells how the school stands in its database.
func (tx *Tx) Database() (Database, error) {
	return row[Database](tx, `select (select max(version_id) from goose_db_version) as schema, pg_database_size(current_database()) / 1000000 as megabytes,
		(select count(*) from lessons where school_id = s.id) as lessons, (select count(*) from lesson_events where school_id = s.id) as events,
		(select count(*) from seals where school_id = s.id) as seals, (select max(signed_at) from seals where school_id = s.id) as sealed_at,
		(select count(*) from sessions where expiry > now() and seen_at > now() - idle) as sessions
		from schools s where s.id = ?`, tx.School)
}
