<?php

declare(strict_types=1);

namespace Geschenk\App\Tray;

use Geschenk\App\Entity\RunKind;

/** One phase of a kind of run: what its time goes by. */
final readonly class Phase
{
    public const BYTES = 'bytes';
    public const MESSAGES = 'messages';
    /** Bytes that the phone that receives holds now. */
    public const HELD = 'held';
    /** Bytes that it held before it was written to. */
    public const KEPT = 'kept';
    /** Until a run names its first phase. */
    private const BEFORE_THE_FIRST = '';

    /**
     * @param self::BYTES|self::MESSAGES|self::HELD|self::KEPT $unit
     * @param bool                                             $isOnPhone whether it goes by a phone and its cable
     */
    private function __construct(public string $name, public string $unit, public bool $isOnPhone = false)
    {
    }

    /**
     * @param bool $merges whether it is merged with what the receiving phone holds, which is copied before
     *
     * @return list<self> the phases that take time, in their order
     */
    public static function of(RunKind $kind, bool $merges): array
    {
        $safetyCopy = new self('safety_copy', self::HELD, true);

        return match ($kind) {
            RunKind::Backup => [
                new self('pulling', self::BYTES, true), new self('reading', self::MESSAGES),
                new self('packing', self::BYTES),
            ],
            RunKind::Conversion => [
                ...($merges ? [$safetyCopy] : []),
                new self('verifying', self::BYTES), new self('planning', self::MESSAGES),
                new self('writing', self::MESSAGES), new self('reading', self::MESSAGES),
                new self('comparing', self::MESSAGES),
            ],
            RunKind::Restore => [
                ...($merges ? [] : [$safetyCopy]), new self('staging', self::BYTES, true),
                new self('verifying', self::BYTES, true),
            ],
            RunKind::PutBack => [
                $safetyCopy, new self('staging', self::KEPT, true),
                new self('verifying', self::KEPT, true), new self('reading_back', self::KEPT, true),
            ],
            RunKind::Check => [
                new self(self::BEFORE_THE_FIRST, self::BYTES, true), new self('reading', self::BYTES, true),
                new self('comparing', self::MESSAGES),
            ],
        };
    }
}
