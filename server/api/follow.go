package api

import "context"

// FollowPolicy keeps the standings of a school by the policy of its day.
func (s *API) FollowPolicy(ctx context.Context, school string) {
	done, err := s.Store.FollowPolicy(ctx, school, s.Now())
	switch {
	case err != nil:
		s.Log.Error("following the policy", "school", school, "error", err)
	case done:
		s.Log.Info("standings follow the policy of the day", "school", school)
	}
}
