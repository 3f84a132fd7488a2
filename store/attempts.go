package store

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// attemptsKept is how long wrong attempts are kept.
const attemptsKept = 24 * time.Hour

// Attempts is how often a key was tried wrongly, and when last.
type Attempts struct {
	Key  string
	N    int
	Last time.Time
}

// BeginAttempt counts an attempt under the first of its keys before it is known how it
// ends, and gives how many others each key has had since a moment, and when the last of
// them was. Stamps of a clock that was ahead are none.
func (s *Store) BeginAttempt(ctx context.Context, keys []string, since, now time.Time) (own int64, others []Attempts,
	err error) {
	db := s.db.WithContext(ctx)
	made := attempt{Key: keys[0], At: now}
	if err := db.Create(&made).Error; err != nil {
		return 0, nil, fmt.Errorf("counting an attempt: %w", plain(err))
	}
	found := []Attempts{}
	err = db.Model(&attempt{}).Select("key, count(*) as n, max(at) as last").
		Where("key in ? and at > ? and at <= ? and id <> ?", keys, since, now, made.ID).Group("key").Find(&found).Error
	if err == nil && made.ID%16 == 0 {
		err = db.Where("at < ? or at > ?", now.Add(-attemptsKept), now.Add(attemptsKept)).Delete(&attempt{}).Error
	}
	if err != nil {
		return 0, nil, fmt.Errorf("counting attempts: %w", plain(err))
	}
	others = make([]Attempts, len(keys))
	for i, key := range keys {
		for _, f := range found {
			if f.Key == key {
				others[i] = f
			}
		}
	}
	return made.ID, others, nil
}

// DropAttempt takes out an attempt that was not made.
func (s *Store) DropAttempt(ctx context.Context, own int64) error {
	return plain(s.db.WithContext(ctx).Where("id = ?", own).Delete(&attempt{}).Error)
}

// CountWrong counts an attempt that was wrong under its other keys as well.
func (s *Store) CountWrong(ctx context.Context, keys []string, now time.Time) error {
	if len(keys) == 0 {
		return nil
	}
	made := make([]attempt, len(keys))
	for i, key := range keys {
		made[i] = attempt{Key: key, At: now}
	}
	return plain(s.db.WithContext(ctx).Create(&made).Error)
}

// ForgetAttempts clears a key after an attempt that succeeded.
func (s *Store) ForgetAttempts(ctx context.Context, key string) error {
	return plain(s.db.WithContext(ctx).Where("key = ?", key).Delete(&attempt{}).Error)
}

// devicesKnown is how many devices of a person are known at once.
const devicesKnown = 20

type knownDevice struct {
	AccountID string
	Token     string
	SeenAt    time.Time
}

func (knownDevice) TableName() string { return "known_devices" }

// KnownDevice reports whether an account has been signed in to on a device, by the hash of
// the device's token. What is no account's id is not known anywhere.
func (s *Store) KnownDevice(ctx context.Context, account, token string) (bool, error) {
	if !isUUID(account) {
		return false, nil
	}
	var n int64
	err := s.db.WithContext(ctx).Model(&knownDevice{}).Where("account_id = ? and token = ?", account,
		token).Count(&n).Error
	return n > 0, plain(err)
}

// KnowDevice notes that an account was signed in to on a device.
func (s *Store) KnowDevice(ctx context.Context, account, token string, now time.Time) error {
	return plain(s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
		seen := knownDevice{AccountID: account, Token: token, SeenAt: now}
		if err := db.Clauses(clause.OnConflict{
			Columns:   []clause.Column{{Name: "account_id"}, {Name: "token"}},
			DoUpdates: clause.AssignmentColumns([]string{"seen_at"}),
		}).Create(&seen).Error; err != nil {
			return err
		}
		newest := db.Model(&knownDevice{}).Select("token").Where("account_id = ?",
			account).Order("seen_at desc").Limit(devicesKnown)
		return db.Where("account_id = ? and token not in (?)", account, newest).Delete(&knownDevice{}).Error
	}))
}

type spentChallenge struct {
	Challenge string
	At        time.Time
}

func (spentChallenge) TableName() string { return "spent_challenges" }

// SpendChallenge notes that a challenge was answered; fresh is false when it was before.
func (s *Store) SpendChallenge(ctx context.Context, challenge string, now time.Time) (fresh bool, err error) {
	db := s.db.WithContext(ctx)
	if err := db.Where("at < ?", now.Add(-attemptsKept)).Delete(&spentChallenge{}).Error; err != nil {
		return false, plain(err)
	}
	done := db.Clauses(clause.OnConflict{DoNothing: true}).Create(&spentChallenge{challenge, now})
	return done.RowsAffected == 1, plain(done.Error)
}
