<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure\Shop;

/** A job that a shop does, and what must be so behind it, whatever came between. Acts are those of ShopActs. */
final readonly class TrialKind
{
    /** What the receiving phone is to hold in the end. */
    public const ARRIVED = 'arrived';
    public const AS_BEFORE = 'as before';

    /**
     * @param list<string>                     $before      what is done before anything interrupts
     * @param list<string>                     $interrupted what is asked for, one after the other
     * @param self::ARRIVED|self::AS_BEFORE|null $receiving null where it is not looked at
     * @param bool                             $isKept      whether what was backed up is to be there still
     */
    private function __construct(
        public string $name,
        public array $before,
        public array $interrupted,
        public ?string $receiving,
        public bool $isKept = true,
    ) {
    }

    /** @return list<self> */
    public static function all(): array
    {
        $backedUp = ['open', 'backUp'];
        $held = ['holdChats', ...$backedUp];
        $restored = [...$backedUp, 'replace', 'convert', 'restore'];
        $replaced = [...$held, 'replace', 'convert', 'restore'];

        return [
            new self('back up', ['open'], ['backUp'], self::AS_BEFORE),
            new self('own backup', ['makeLocalBackup', 'open'], ['backUpOwn'], self::AS_BEFORE),
            new self('replace', [...$held, 'replace'], ['convert', 'restore'], self::ARRIVED),
            new self('merge', [...$held, 'merge'], ['convert', 'restore'], self::ARRIVED),
            new self(
                'trial', [...$backedUp, 'choosePart'], ['convert', 'restore', 'bringRest', 'restore'], self::ARRIVED,
            ),
            new self('names', [...$held, 'wantNames'], ['convert', 'restore'], self::ARRIVED),
            new self('missing', [...$restored, 'loseMessages', 'check'], ['bringMissing', 'restore'], self::ARRIVED),
            new self('put back', $replaced, ['putBack'], self::AS_BEFORE),
            new self('put back behind', [...$replaced, 'handOver'], ['putBack'], self::AS_BEFORE),
            new self('erase', [...$replaced, 'handOver'], ['erase'], null, false),
            new self('clock', [...$replaced, 'handOver'], ['jumpClock', 'jumpClock', 'putBack'], self::AS_BEFORE),
        ];
    }
}
