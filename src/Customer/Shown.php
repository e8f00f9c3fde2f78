<?php

declare(strict_types=1);

namespace Geschenk\App\Customer;

/** Which of the backups that were ever made the cupboard shows. */
enum Shown: string
{
    /** What can be brought, or could once its tray is handed over. */
    case Kept = 'kept';
    /** Of what is kept, that whose last day is near. */
    case Due = 'due';
    /** Of what is kept, safety copies too, that which was not whole when it was read back last. */
    case Broken = 'broken';
    /** Of what is kept, safety copies too, that of which no whole copy lies at the second place. */
    case Alone = 'alone';
    /** What phones that receive held before. */
    case SafetyCopies = 'safety_copies';
    case Erased = 'erased';

    private const KEPT = "b.erase_asked_at IS NULL AND b.origin = 'account'";

    /**
     * Condition in SQL over a backup b, its tray t and its whole copy at the second place, there. :soon is the moment
     * up to which a day is near.
     */
    public function condition(): string
    {
        return [
            'kept' => self::KEPT,
            'due' => self::KEPT.' AND t.closed_at IS NOT NULL AND COALESCE(b.keep_until, t.keep_until) <= :soon',
            'broken' => 'b.erase_asked_at IS NULL AND b.trouble IS NOT NULL',
            'alone' => 'b.erase_asked_at IS NULL AND there.name IS NULL',
            'safety_copies' => "b.erase_asked_at IS NULL AND b.origin = 'safety_copy'",
            'erased' => "b.erase_asked_at IS NOT NULL AND b.origin = 'account'",
        ][$this->value];
    }
}
