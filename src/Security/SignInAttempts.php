<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Doctrine\DBAL\Connection;
use Symfony\Component\Clock\ClockInterface;

/**
 * Slows down guessing: from one address a name may be tried five times a minute and all names together thirty times.
 * A guess is counted before its password is looked at, alone, so that any number at once can't pass. What is
 * refused does not make the minute longer, and nobody at another address is kept out: a name that is tried from many
 * addresses is looked at slowly, by whomever, and a right password is let in all the same.
 */
final readonly class SignInAttempts
{
    public const OF_A_NAME = 5;
    public const OF_AN_ADDRESS = 30;
    public const SECONDS = 60;
    /** Guesses at a name in a minute, from all addresses together, that are looked at at once. */
    public const AT_ONCE = 20;
    /** Seconds that each one more waits: enough for whoever guesses, and nobody's work is kept from them. */
    private const SLOW = 1;
    private const ANYWHERE = 'anywhere';

    public function __construct(private Connection $connection, private ClockInterface $clock)
    {
    }

    /**
     * Counts one more.
     *
     * @return int how many more than allowed there were in this minute; 0 when the password may be looked at
     */
    public function count(string $username, string $address): int
    {
        $now = $this->clock->now()->getTimestamp();

        return $this->connection->transactional(function () use ($username, $address, $now): int {
            $this->connection->executeStatement(
                'DELETE FROM guess WHERE since NOT BETWEEN ? AND ?', [$now - self::SECONDS + 1, $now],
            );

            return max(
                0, $this->increase(self::subject($username, $address), $now) - self::OF_A_NAME,
                $this->increase(self::subject('', $address), $now) - self::OF_AN_ADDRESS,
            );
        });
    }

    /** Waits where a name is tried too often, from wherever; known or not, right or wrong. */
    public function slowDown(string $username): void
    {
        $now = $this->clock->now()->getTimestamp();
        $guesses = $this->connection->transactional(
            fn (): int => $this->increase(self::subject($username, self::ANYWHERE), $now),
        );
        if ($guesses > self::AT_ONCE) {
            $this->clock->sleep(self::SLOW);
        }
    }

    public function succeeded(string $username, string $address): void
    {
        $this->connection->executeStatement(
            'DELETE FROM guess WHERE subject = ?', [self::subject($username, $address)],
        );
    }

    private function increase(string $subject, int $now): int
    {
        $this->connection->executeStatement(<<<'SQL'
            INSERT INTO guess (subject, since, guesses) VALUES (?, ?, 1)
            ON CONFLICT (subject) DO UPDATE SET guesses = guesses + 1
            SQL, [$subject, $now]);
        $guesses = $this->connection->fetchOne('SELECT guesses FROM guess WHERE subject = ?', [$subject]);

        return is_numeric($guesses) ? (int) $guesses : self::OF_AN_ADDRESS + 1;
    }

    /** Not the name itself: people type passwords into the wrong field. */
    private static function subject(string $username, string $address): string
    {
        return hash('sha256', mb_strtolower(mb_scrub($username))."\0".self::network($address));
    }

    /** A computer has one address of the older sort, and as many as it likes within a /64 of the newer one. */
    private static function network(string $address): string
    {
        $bytes = @inet_pton($address);

        return false === $bytes || 16 !== strlen($bytes) ? $address : bin2hex(substr($bytes, 0, 8)).'/64';
    }
}
