-- How many steps the way to the address had, where it was looked at beside a try.

ALTER TABLE observation ADD COLUMN hops TINYINT UNSIGNED NULL;
ALTER TABLE sheet ADD COLUMN hops_column MEDIUMBLOB NULL;
