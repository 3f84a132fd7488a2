package api

import (
	"context"

	"jetprimer/store"
)

// Audit writes what somebody did into the audit and the log.
func (s *API) Audit(ctx context.Context, w Person, what, subject string) {
	d := store.AuditEntry{At: s.Now(), Address: Address(ctx), What: what, Subject: subject}
	if w.School != "" {
		d.SchoolID = &w.School
	}
	if w.Account != "" {
		d.AccountID = &w.Account
	}
	if err := s.Store.Audit(context.WithoutCancel(ctx), d); err != nil {
		s.Log.Error("the audit could not be written", "error", err.Error())
	}
	s.Log.Info("audit", "id", OriginOf(ctx).Id, "what", what, "subject", subject, "account", w.Account, "school",
		w.School, "address", d.Address)
}
