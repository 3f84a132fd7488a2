package server

import (
	"context"
	"time"
)

// schoolsBeat is how often every school is looked at: a policy that comes into force at
// midnight is followed by then, and reports follow what was signed.
const schoolsBeat = time.Minute

// eachSchool does something for every school, again and again, until the server is closed.
func (s *Server) eachSchool(ctx context.Context, do func(ctx context.Context, school string)) {
	beat := time.NewTicker(schoolsBeat)
	defer beat.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-beat.C:
		}
		all, err := s.Store.EverySchool(ctx)
		if err != nil {
			s.Log.Error("looking at the schools", "error", err)
			continue
		}
		for _, one := range all {
			do(ctx, one.ID)
		}
	}
}

// followPolicies keeps a school's standings by the policy of its day, and fits how it
// forgets.
func (s *Server) followPolicies(ctx context.Context, school string) {
	s.FollowPolicy(ctx, school)
	if _, err := s.Store.FitForgetting(ctx, school, s.Now()); err != nil {
		s.Log.Error("fitting the forgetting", "school", school, "error", err)
	}
}

// keepReports makes a school's kept reports anew after something was signed.
func (s *Server) keepReports(ctx context.Context, school string) {
	if err := s.Reports.Refresh(ctx, s.Store, school); err != nil && ctx.Err() == nil {
		s.Log.Error("keeping reports", "school", school, "error", err)
	}
}
