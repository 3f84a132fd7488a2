package store

import "time"

// Notice is something that a person is told of their account until they have read it.
type Notice struct {
	ID    string    `json:"id"`
	At    time.Time `json:"at"`
	Words string    `json:"words"`
}

type noticeRow struct {
	SchoolID  string
	ID        string `gorm:"default:gen_random_uuid()"`
	AccountID string
	At        time.Time
	Words     string
	ReadAt    *time.Time
}

func (noticeRow) TableName() string { return "notices" }

// noticesMost bounds what is shown at once.
const noticesMost = 20

// Notify tells a member something.
func (tx *Tx) Notify(account, words string, now time.Time) error {
	return tx.db.Create(&noticeRow{SchoolID: tx.School, AccountID: account, At: now, Words: words}).Error
}

// Notices lists what a member has not read yet, the newest first.
func (tx *Tx) Notices(account string) ([]Notice, error) {
	return find[Notice](tx.own(&noticeRow{}).Where("account_id = ? and read_at is null",
		account).Order("at desc, id").Limit(noticesMost))
}

// ReadNotice notes that a member has read something.
func (tx *Tx) ReadNotice(account, id string, now time.Time) error {
	done := tx.own(&noticeRow{}).Where("account_id = ? and id = ? and read_at is null", account, id).Update("read_at",
		now)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}
