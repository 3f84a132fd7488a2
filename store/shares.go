package store

import (
	"fmt"
	"time"
)

// RecordShare is a student's record shared by a link and a code.
type RecordShare struct {
	ID          string     `json:"id"`
	StudentID   string     `json:"studentId"`
	Whom        string     `json:"whom"`
	Code        string     `json:"-"`
	Until       time.Time  `json:"until"`
	MadeBy      string     `json:"-"`
	MadeAt      time.Time  `json:"madeAt"`
	WithdrawnBy *string    `json:"-"`
	WithdrawnAt *time.Time `json:"withdrawnAt,omitempty"`
	Looks       []Look     `json:"looks" gorm:"-"`
}

// Look is one time that somebody looked at a shared record.
type Look struct {
	At   time.Time `json:"at"`
	Name string    `json:"name"`
	What string    `json:"what"`
}

type recordShareRow struct {
	SchoolID string
	RecordShare
}

func (recordShareRow) TableName() string { return "record_shares" }

type lookRow struct {
	SchoolID string
	ShareID  string
	Look
}

func (lookRow) TableName() string { return "share_looks" }

// Open reports whether a share can still be looked at.
func (s RecordShare) Open(now time.Time) bool { return s.WithdrawnAt == nil && now.Before(s.Until) }

// AddRecordShare shares a student's record.
func (tx *Tx) AddRecordShare(s RecordShare) error {
	return tx.db.Create(&recordShareRow{tx.School, s}).Error
}

// sharesMost is how many shares of a student are listed.
const sharesMost = 50

// RecordShares lists the newest shares of a student, with who looked.
func (tx *Tx) RecordShares(student string) ([]RecordShare, error) {
	all, err := find[RecordShare](tx.own(&recordShareRow{}).Where("student_id = ?",
		student).Order("made_at desc").Limit(sharesMost))
	if err != nil {
		return nil, fmt.Errorf("reading shares: %w", err)
	}
	for i := range all {
		if all[i].Looks, err = find[Look](tx.own(&lookRow{}).Where("share_id = ?",
			all[i].ID).Order("at desc").Limit(sharesMost)); err != nil {
			return nil, fmt.Errorf("reading who looked: %w", err)
		}
	}
	return all, nil
}

// RecordShare finds one share.
func (tx *Tx) RecordShare(id string) (RecordShare, error) {
	return take[RecordShare](tx.own(&recordShareRow{}).Where("id = ?", id))
}

// WithdrawShare ends a share.
func (tx *Tx) WithdrawShare(id, by string, now time.Time) error {
	return tx.own(&recordShareRow{}).Where("id = ? and withdrawn_at is null", id).Updates(map[string]any{
		"withdrawn_by": by, "withdrawn_at": now,
	}).Error
}

// NoteLook keeps that somebody looked.
func (tx *Tx) NoteLook(share string, l Look) error {
	return tx.db.Create(&lookRow{tx.School, share, l}).Error
}
