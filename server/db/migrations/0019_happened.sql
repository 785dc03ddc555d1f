-- What happened within a week is found by when it did, whoever it happened to; the sequence is part of each.
CREATE INDEX journey_outcomes_written ON journey_outcomes (written_at) WHERE written_at IS NOT NULL;
CREATE INDEX journey_outcomes_answered ON journey_outcomes (answered_at) WHERE answered_at IS NOT NULL;
CREATE INDEX journey_outcomes_positive ON journey_outcomes (positive_at) WHERE positive_at IS NOT NULL;
CREATE INDEX journey_outcomes_opted_out ON journey_outcomes (opted_out_at) WHERE opted_out_at IS NOT NULL;
CREATE INDEX journey_outcomes_bounced ON journey_outcomes (bounced_at) WHERE bounced_at IS NOT NULL;
