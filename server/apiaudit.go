package server

import (
	"context"
	"jetprimer/store"
)

// audit writes what somebody did into the audit and the log.
func (s *API) audit(ctx context.Context, w who, what, subject string) {
	d := store.AuditEntry{At: s.now(), Address: address(ctx), What: what, Subject: subject}
	if w.school != "" {
		d.SchoolID = &w.school
	}
	if w.account != "" {
		d.AccountID = &w.account
	}
	if err := s.store.Audit(context.WithoutCancel(ctx), d); err != nil {
		s.log.Error("the audit could not be written", "error", err.Error())
	}
	s.log.Info("audit", "id", origin(ctx).id, "what", what, "subject", subject, "account", w.account, "school",
		w.school, "address", d.Address)
}
