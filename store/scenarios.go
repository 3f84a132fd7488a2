package store

import (
	"encoding/json"
	"fmt"
	"time"

	"gorm.io/gorm/clause"

	"jetprimer/core/form"
	"jetprimer/core/stand"
)

type scenarioRow struct {
	SchoolID  string `gorm:"primaryKey"`
	ID        string `gorm:"primaryKey"`
	Type      string
	Body      string
	WrittenBy string
	WrittenAt time.Time
}

func (scenarioRow) TableName() string { return "scenarios" }

// Scenarios are those that the school has written for a type's stand, by their ids.
func (tx *Tx) Scenarios(aircraftType string) ([]stand.Scenario, error) {
	kept, err := find[scenarioRow](tx.own(&scenarioRow{}).Where("type = ?", aircraftType).Order("id"))
	if err != nil {
		return nil, fmt.Errorf("reading scenarios: %w", err)
	}
	out := []stand.Scenario{}
	for _, k := range kept {
		s, err := k.scenario()
		if err != nil {
			return nil, err
		}
		out = append(out, s)
	}
	return out, nil
}

func (k scenarioRow) scenario() (s stand.Scenario, err error) {
	if err := json.Unmarshal([]byte(k.Body), &s); err != nil {
		return s, fmt.Errorf("reading the scenario %s: %w", k.ID, err)
	}
	return s, nil
}

// Scenario is one that the school has written.
func (tx *Tx) Scenario(id string) (stand.Scenario, error) {
	kept, err := firstOf(find[scenarioRow](tx.own(&scenarioRow{}).Where("id = ?", id)))
	if err != nil {
		return stand.Scenario{}, err
	}
	return kept.scenario()
}

// scenariosMost bounds the scenarios of a school.
const scenariosMost = 500

// KeepScenario keeps a scenario, in the place of the one with its id.
func (tx *Tx) KeepScenario(s stand.Scenario, by string, now time.Time) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	var n int64
	if err := tx.own(&scenarioRow{}).Where("id <> ?", s.ID).Count(&n).Error; err != nil {
		return fmt.Errorf("counting scenarios: %w", err)
	}
	if n >= scenariosMost {
		return form.Bad("id", "would be one more than the %d scenarios that a school keeps: drop one first",
			scenariosMost)
	}
	body, err := json.Marshal(s)
	if err != nil {
		return err
	}
	row := scenarioRow{tx.School, s.ID, s.Type, string(body), by, now}
	if err := tx.db.Clauses(clause.OnConflict{UpdateAll: true}).Create(&row).Error; err != nil {
		return fmt.Errorf("keeping a scenario: %w", err)
	}
	return tx.changed(head.Seq, "scenario", s.ID)
}

// DropScenario drops a scenario that the school has written.
func (tx *Tx) DropScenario(id string) error {
	head, err := tx.bump()
	if err != nil {
		return err
	}
	done := tx.own(&scenarioRow{}).Where("id = ?", id).Delete(&scenarioRow{})
	switch {
	case done.Error != nil:
		return fmt.Errorf("dropping a scenario: %w", done.Error)
	case done.RowsAffected == 0:
		return ErrNotFound
	}
	return tx.changed(head.Seq, "scenario", id)
}
