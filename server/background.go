package server

import (
	"context"
	"time"
)

// schoolsBeat is how often every school is looked at: a policy that comes into force at
// midnight is followed by then, and reports follow what was signed.
const schoolsBeat = time.Minute

// eachSchool does something for every school, again and again, until the server is closed.
func (s *API) eachSchool(ctx context.Context, do func(ctx context.Context, school string)) {
	beat := time.NewTicker(schoolsBeat)
	defer beat.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-beat.C:
		}
		all, err := s.store.EverySchool(ctx)
		if err != nil {
			s.log.Error("looking at the schools", "error", err)
			continue
		}
		for _, one := range all {
			do(ctx, one.ID)
		}
	}
}

// followPolicies keeps a school's standings by the policy of its day, and fits how it
// forgets.
func (s *API) followPolicies(ctx context.Context, school string) {
	s.followPolicy(ctx, school)
	if _, err := s.store.FitForgetting(ctx, school, s.now()); err != nil {
		s.log.Error("fitting the forgetting", "school", school, "error", err)
	}
}

// keepReports makes a school's kept reports anew after something was signed.
func (s *API) keepReports(ctx context.Context, school string) {
	if err := s.reports.Refresh(ctx, s.store, school); err != nil && ctx.Err() == nil {
		s.log.Error("keeping reports", "school", school, "error", err)
	}
}
