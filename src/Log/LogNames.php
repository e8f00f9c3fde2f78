<?php

declare(strict_types=1);

namespace Geschenk\App\Log;

use Doctrine\DBAL\Connection;

/**
 * What the log says of a customer's people: the log itself, which nobody can take a line out of, holds a number alone.
 * What that stands for lies beside it, where erasing reaches it.
 */
final readonly class LogNames
{
    public const PARAM = 'title_ref';
    /** The same of what a copy for reading is called, which begins with its customer's name. */
    public const COPY = 'name_ref';
    /** What stands in a sentence in the place of each. */
    public const SAID = [self::PARAM => 'title', self::COPY => 'name'];
    /** What a run sheet says of whose tray it is, and what the log says in its place. */
    public const CUSTOMER = 'customer';
    public const OF_TRAY = 'of_tray';

    public function __construct(private Connection $connection)
    {
    }

    /** @return string what the log says in its place */
    public function keep(int $tray, string $text): string
    {
        $known = $this->connection->fetchOne('SELECT ref FROM log_name WHERE tray = ? AND text = ?', [$tray, $text]);
        if (is_string($known)) {
            return $known;
        }
        $ref = bin2hex(random_bytes(8));
        $this->connection->insert('log_name', ['ref' => $ref, 'tray' => $tray, 'text' => $text]);

        return $ref;
    }

    /** @return string|null null once it was erased */
    public function find(string $ref): ?string
    {
        $text = $this->connection->fetchOne('SELECT text FROM log_name WHERE ref = ?', [$ref]);

        return is_string($text) ? $text : null;
    }

    public function erase(int $tray): void
    {
        $this->connection->executeStatement('DELETE FROM log_name WHERE tray = ?', [$tray]);
    }
}
