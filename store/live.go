package store

import (
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"time"

	"gorm.io/gorm/clause"

	"jetprimer/core/form"
	"jetprimer/core/practice"
)

// Bounds of practices that go on: how many of a school and of one student are shown at a time
// and begun by one student in a day, how much is said of what each is, in bytes, how many
// wishes an instructor has, after how long without a word one is shown no more, and how long
// it is kept for the practice to come.
const (
	liveMost    = 60
	liveOfOne   = 3
	liveADay    = 300
	liveHead    = 64 << 10
	wishesMost  = 500
	LiveFor     = 20 * time.Minute
	liveKept    = 62 * 24 * time.Hour
	liveTelling = 3 * time.Second // how often the row follows what is told
)

// LiveRun is a practice that goes on, or did.
type LiveRun struct {
	ID        string
	AccountID string
	Student   string
	Run       practice.Run `gorm:"serializer:json"`
	Seed      string
	Tick      int
	BegunAt   time.Time
	ToldAt    time.Time
	Frozen    bool
	EndedAt   *time.Time
}

type liveRow struct {
	SchoolID  string
	ID        string
	AccountID string
	Run       string
	Seed      string
	Tick      int
	BegunAt   time.Time
	ToldAt    time.Time
	Frozen    bool
	EndedAt   *time.Time
}

func (liveRow) TableName() string { return "live_runs" }

type wishRow struct {
	SchoolID string
	RunID    string
	Number   int
	Wish     string
	MadeBy   string
	MadeAt   time.Time
}

func (wishRow) TableName() string { return "live_wishes" }

func seedOf(r practice.Run) string { return strconv.FormatUint(r.Seed, 10) }

// TellLive notes that a practice of somebody goes on and how far it has come, and gives it
// with the wishes that its stand has not taken yet. run has no deeds.
func (tx *Tx) TellLive(id, account string, run practice.Run, tick, known int,
	now time.Time) (LiveRun, []practice.Wish, error) {
	kept, err := take[liveRow](tx.own(&liveRow{}).Where("id = ?", id))
	switch {
	case errors.Is(err, ErrNotFound):
		if kept, err = tx.beginLive(id, account, run, now); err != nil {
			return LiveRun{}, nil, err
		}
	case err != nil:
		return LiveRun{}, nil, err
	case kept.AccountID != account || kept.EndedAt != nil || kept.Seed != seedOf(run):
		return LiveRun{}, nil, ErrNotFound
	case now.Sub(kept.ToldAt).Abs() > liveTelling:
		if err := tx.own(&liveRow{}).Where("id = ?",
			id).Updates(map[string]any{"told_at": now, "tick": tick}).Error; err != nil {
			return LiveRun{}, nil, err
		}
	}
	wishes, err := tx.wishes(id, known)
	return LiveRun{ID: id, AccountID: account, Seed: kept.Seed, Frozen: kept.Frozen, BegunAt: kept.BegunAt}, wishes, err
}

// beginLive keeps that a practice has begun, by the school's clock.
func (tx *Tx) beginLive(id, account string, run practice.Run, now time.Time) (liveRow, error) {
	text, err := json.Marshal(run)
	if err != nil {
		return liveRow{}, err
	}
	if len(text) > liveHead {
		return liveRow{}, form.Bad("run", "says more than the %d bytes that a run may say of what it is", liveHead)
	}
	if err := tx.dropLive(now); err != nil {
		return liveRow{}, err
	}
	type count struct{ InAll, Today int }
	n, err := row[count](tx,
		"select count(*) filter (where ended_at is null and told_at > @heard and account_id <> @own) as in_all, "+
			"count(*) filter (where account_id = @own and begun_at > @day) as today from live_runs where school_id "+
			"= @school",
		map[string]any{"own": account, "school": tx.School, "heard": now.Add(-LiveFor), "day": now.AddDate(0, 0, -1)})
	switch {
	case err != nil:
		return liveRow{}, fmt.Errorf("counting what goes on: %w", err)
	case n.InAll >= liveMost:
		return liveRow{}, form.Bad("id", "cannot be shown: %d runs go on in the school already", liveMost)
	case n.Today >= liveADay:
		return liveRow{}, form.Bad("id", "cannot be shown: you have begun %d runs within a day", liveADay)
	}
	// Who begins another has left the ones before.
	left := tx.own(&liveRow{}).Select("id").Where("account_id = ? and ended_at is null",
		account).Order("told_at desc, id").Offset(liveOfOne - 1)
	if err := tx.own(&liveRow{}).Where("id in (?)", left).Update("ended_at", now).Error; err != nil {
		return liveRow{}, fmt.Errorf("ending what was left: %w", err)
	}
	made := liveRow{
		SchoolID: tx.School, ID: id, AccountID: account, Run: string(text), Seed: seedOf(run), BegunAt: now,
		ToldAt: now,
	}
	done := tx.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&made)
	if done.Error == nil && done.RowsAffected == 0 { // another request of the same stand was first
		return take[liveRow](tx.own(&liveRow{}).Where("id = ? and account_id = ?", id, account))
	}
	return made, done.Error
}

// dropLive lets go of runs whose practice will not come any more.
func (tx *Tx) dropLive(now time.Time) error {
	old := now.Add(-liveKept)
	if err := tx.db.Exec("delete from live_wishes w using live_runs l where l.school_id = ? and l.told_at < ? and "+
		"w.school_id = l.school_id and w.run_id = l.id", tx.School, old).Error; err != nil {
		return err
	}
	return tx.own(&liveRow{}).Where("told_at < ?", old).Delete(&liveRow{}).Error
}

// wishes are those of a run from one on.
func (tx *Tx) wishes(id string, from int) ([]practice.Wish, error) {
	kept, err := find[wishRow](tx.own(&wishRow{}).Where("run_id = ? and number >= ?", id, from).Order("number"))
	out := make([]practice.Wish, len(kept))
	for i, k := range kept {
		if err := json.Unmarshal([]byte(k.Wish), &out[i]); err != nil {
			return nil, fmt.Errorf("reading a wish: %w", err)
		}
	}
	return out, err
}

// LiveRun is a practice that goes on, or did, with all that instructors did to it.
func (tx *Tx) LiveRun(id string) (LiveRun, []practice.Wish, error) {
	kept, err := take[LiveRun](tx.own(&liveRow{}).Select("id, account_id, run, seed, tick, begun_at, told_at, "+
		"frozen, ended_at").Where("id = ?", id))
	if err != nil {
		return LiveRun{}, nil, err
	}
	wishes, err := tx.wishes(id, 0)
	return kept, wishes, err
}

// LiveRuns lists what goes on, by student.
func (tx *Tx) LiveRuns(now time.Time) ([]LiveRun, error) {
	return find[LiveRun](tx.db.Table("live_runs l").Select("l.*, m.name as student").
		Joins("join memberships m on m.school_id = l.school_id and m.account_id = l.account_id").
		Where("l.school_id = ? and l.ended_at is null and l.told_at > ?", tx.School,
			now.Add(-LiveFor)).Order("m.name, l.id").Limit(liveMost))
}

// Wish keeps what an instructor does to a practice that goes on.
func (tx *Tx) Wish(id string, wish practice.Wish, by string, now time.Time) error {
	kept, err := take[liveRow](tx.own(&liveRow{}).Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ?", id))
	if err != nil {
		return err
	}
	if kept.EndedAt != nil {
		return ErrNotFound
	}
	var n int64
	if err := tx.own(&wishRow{}).Where("run_id = ?", id).Count(&n).Error; err != nil {
		return err
	}
	if n >= wishesMost {
		return form.Bad("change", "is one more than a run can have")
	}
	text, err := json.Marshal(wish)
	if err != nil {
		return err
	}
	return tx.db.Create(&wishRow{tx.School, id, int(n), string(text), by, now}).Error
}

// FreezeLive holds a practice that goes on, or lets it go.
func (tx *Tx) FreezeLive(id string, frozen bool) error {
	done := tx.own(&liveRow{}).Where("id = ? and ended_at is null", id).Update("frozen", frozen)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}

// endLive notes that a practice goes on no more; of one that nobody told of there is nothing
// to note.
func (tx *Tx) endLive(id string, now time.Time) error {
	return tx.own(&liveRow{}).Where("id = ? and ended_at is null", id).Update("ended_at", now).Error
}
