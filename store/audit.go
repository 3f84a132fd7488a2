package store

import (
	"strings"
	"time"

	"gorm.io/gorm"
)

// AuditLine is a line of what was done in a school.
type AuditLine struct {
	ID      int64     `json:"id"`
	At      time.Time `json:"at"`
	By      string    `json:"by" doc:"the name; empty for somebody who was not signed in"`
	What    string    `json:"what"`
	Subject string    `json:"subject" doc:"whom or what it was about, by name where that is known"`
	Address string    `json:"address"`
}

// AuditQuery is what is looked for among what was done: words that all stand somewhere
// in a line, and the school's days from and until.
type AuditQuery struct {
	Words       string
	From, Until string
	Before      int64 // ids below it; 0 for all
	Most        int
}

// AuditLog lists what was done in the school, the latest first.
func (tx *Tx) AuditLog(asked AuditQuery) ([]AuditLine, error) {
	query := tx.doneBy().Limit(asked.Most)
	for _, word := range strings.Fields(asked.Words) {
		query = query.Where(`concat_ws(' ', a.name, d.what, s.name, d.subject, d.address) ilike ?`,
			"%"+escapeLike(word)+"%")
	}
	if asked.From != "" {
		query = query.Where("d.at >= (?::date)::timestamp at time zone ?", asked.From, tx.Zone.String())
	}
	if asked.Until != "" {
		query = query.Where("d.at < (?::date + 1)::timestamp at time zone ?", asked.Until, tx.Zone.String())
	}
	if asked.Before > 0 {
		query = query.Where("d.id < ?", asked.Before)
	}
	return find[AuditLine](query)
}

// doneBy reads what was done with the names of who did it and to whom.
func (tx *Tx) doneBy() *gorm.DB {
	return tx.db.Table("audit d").Select("d.id, d.at, coalesce(a.name, '') as by, d.what, coalesce(s.name, "+
		"d.subject) as subject, d.address").
		Joins("left join memberships a on a.school_id = d.school_id and a.account_id = d.account_id").
		Joins("left join memberships s on s.school_id = d.school_id and s.account_id::text = d.subject").
		Where("d.school_id = ?", tx.School).Order("d.id desc")
}

// escapeLike makes a word stand for itself in a pattern.
func escapeLike(word string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(word)
}
