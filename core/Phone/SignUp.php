<?php

declare(strict_types=1);

namespace Geschenk\Core\Phone;

/** What a messenger shows while a number is being registered in it. */
final readonly class SignUp
{
    /** By which way the code comes is still to be chosen. */
    public const WANTS_WAY = 'way';
    public const WANTS_CODE = 'code';
    /** The code that came is void, and another has to be asked for. */
    public const WANTS_ANOTHER_CODE = 'another_code';
    /** The account's own PIN, besides the code. */
    public const WANTS_PIN = 'pin';
    /** Nothing more: the PIN was switched off, and whoever has the phone goes on. */
    public const WANTS_NOTHING = 'nothing';
    public const WANTS = [
        self::WANTS_WAY => self::WANTS_WAY, self::WANTS_CODE => self::WANTS_CODE,
        self::WANTS_ANOTHER_CODE => self::WANTS_ANOTHER_CODE, self::WANTS_PIN => self::WANTS_PIN,
        self::WANTS_NOTHING => self::WANTS_NOTHING,
    ];

    /**
     * @param string        $number    E.164
     * @param self::WANTS_* $wants
     * @param int           $textsLeft codes that can be had by text today
     * @param int           $callsLeft and by call
     * @param int|null      $nextAskAt s since 1970 UTC: before that no code can be asked for; null when one can be
     */
    public function __construct(
        public string $number,
        public string $wants,
        public int $textsLeft,
        public int $callsLeft,
        public ?int $nextAskAt,
    ) {
    }
}
