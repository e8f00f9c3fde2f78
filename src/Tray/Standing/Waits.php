<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Standing;

use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;

/** What a tray or a move waits for. Its words are under "waits" in translations/. */
final readonly class Waits
{
    public const PERSON = 'person';
    public const MACHINE = 'machine';
    public const NOBODY = 'nobody';

    public const TECHNICIAN = 'technician';
    public const CUSTOMER = 'customer';

    /**
     * @param self::PERSON|self::MACHINE|self::NOBODY $for
     * @param self::TECHNICIAN|self::CUSTOMER|null    $who  for a person: which
     * @param string|null                             $tag  of the phone on which something is to be done
     * @param string                                  $key  of the words, and of
     * @param string|null                             $how  what to do, where more is to be said
     * @param array<string, string|int>               $params of both
     * @param Move|null                               $move whose turn it is, where it is one's
     * @param Run|null                                $run  that is under way
     */
    public function __construct(
        public string $for,
        public ?string $who,
        public ?string $tag,
        public string $key,
        public ?string $how = null,
        public array $params = [],
        public ?Move $move = null,
        public ?Run $run = null,
    ) {
    }

    /** Differs when what is waited for does, however far it is. */
    public function signature(): string
    {
        $parts = [$this->for, $this->who, $this->tag, $this->key, $this->move?->place, $this->run?->id];

        return mb_strcut(implode('|', $parts), 0, 160);
    }
}
