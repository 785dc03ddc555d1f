-- Pace: what is asked again and again finds its rows without a walk through the table.

-- What came of a touch: Results, and whether an email was opened, bounced or answered.
CREATE INDEX events_by_touch ON events (touch_id, kind) WHERE touch_id IS NOT NULL;

-- A rep's day so far.
CREATE INDEX replies_by_labeller ON replies (labelled_by, labelled_at) WHERE labelled_by IS NOT NULL;
CREATE INDEX touches_by_user ON touches (user_id, ended_at) WHERE user_id IS NOT NULL;
