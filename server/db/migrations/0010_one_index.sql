-- prospects_by_domain (0002) answers the same questions, and each index is written to for everybody who comes in.
DROP INDEX IF EXISTS prospects_by_address_domain;
