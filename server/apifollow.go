package server

import "context"

func (s *API) followPolicy(ctx context.Context, school string) {
	done, err := s.store.FollowPolicy(ctx, school, s.now())
	switch {
	case err != nil:
		s.log.Error("following the policy", "school", school, "error", err)
	case done:
		s.log.Info("standings follow the policy of the day", "school", school)
	}
}
