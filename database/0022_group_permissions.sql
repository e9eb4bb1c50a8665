-- What members do on a group's page is a permission of its own; until now whatever stood on it could be written in.
UPDATE `groups` SET page = JSON_ARRAY_APPEND(page, '$.may', 'post')
  WHERE page IS NOT NULL AND JSON_CONTAINS(page, '"thread"', '$.has');
UPDATE `groups` SET page = JSON_ARRAY_APPEND(page, '$.may', 'note')
  WHERE page IS NOT NULL AND JSON_CONTAINS(page, '"note"', '$.has');
UPDATE `groups` SET page = JSON_ARRAY_APPEND(page, '$.may', 'file')
  WHERE page IS NOT NULL AND JSON_CONTAINS(page, '"files"', '$.has');
