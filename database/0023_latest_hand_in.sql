-- The latest hand-in is the latest by its moment: ids are not in order where hand-ins were brought from elsewhere.
ALTER TABLE hand_ins
  DROP KEY hand_ins_latest,
  ADD KEY hand_ins_latest (course_id, at, id);
