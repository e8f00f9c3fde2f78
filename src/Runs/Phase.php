<?php

declare(strict_types=1);

namespace Geschenk\App\Runs;

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
    public const BEFORE_THE_FIRST = '';

    /**
     * @param string                                           $name      as the run names it; words under "phase"
     * @param self::BYTES|self::MESSAGES|self::HELD|self::KEPT $unit
     * @param bool                                             $isOnPhone whether it goes by a phone and its cable
     */
    public function __construct(public string $name, public string $unit, public bool $isOnPhone = false)
    {
    }

    /** All that the receiving phone holds, kept before it is written to. */
    public static function safetyCopy(): self
    {
        return new self('safety_copy', self::HELD, true);
    }
}
