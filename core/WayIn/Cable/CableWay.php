<?php

declare(strict_types=1);

namespace Geschenk\Core\WayIn\Cable;

use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\Transfer\Fetching;
use Geschenk\Core\Transfer\Glance;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\Transfer\PhoneChats;
use Geschenk\Core\Transfer\RestoreRefused;
use Geschenk\Core\Transfer\SteadyPull;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\Transfer\WayIn;

/** Over the cable: the chats as they lie open on the phone now. */
final readonly class CableWay implements WayIn
{
    /** @param bool $isWhole whether to take all that the app keeps, to be put back as it was */
    public function __construct(private PhoneChats $chats, private bool $isWhole = false)
    {
    }

    public static function name(): string
    {
        return 'cable';
    }

    /** The one that it has wherever the chats lie open. */
    public static function now(?int $bytes = null): Offer
    {
        return new Offer(self::name(), bytes: $bytes);
    }

    /** The same way for a safety copy: what belongs to no message is taken too, and nothing may be left out. */
    public function whole(): self
    {
        return new self($this->chats, true);
    }

    public function offers(PhoneLink $link, string $app): array
    {
        $bytes = $this->glance($link, $app)->chatBytes;

        return null === $bytes ? [] : [self::now($bytes)];
    }

    public function glance(PhoneLink $link, string $app): Glance
    {
        $marks = [];
        $changedAt = $bytes = 0;
        foreach ($this->chats->chatFiles($link, $app) as $file) {
            $marks[] = $file->path.':'.$file->bytes.':'.$file->changed;
            $changedAt = max($changedAt, $file->changedAt);
            $bytes += $file->bytes;
        }

        return new Glance($marks, $changedAt, [] === $marks ? null : $bytes);
    }

    public function canBeMade(PhoneState $phone, string $app): bool
    {
        return false;
    }

    public function steps(): array
    {
        return [];
    }

    public function switches(PhoneState $phone, string $app): array
    {
        return [];
    }

    public function lookInto(Taking $taking, string $path, Progress $progress): void
    {
        $this->chats->read($taking->link, $taking->app, $path, false, $progress);
    }

    public function bytes(Taking $taking): int
    {
        $bytes = 0;
        foreach ($taking->link->files($taking->app) as $file) {
            $bytes += $file->bytes;
        }

        return $bytes;
    }

    public function fetch(Fetching $fetching): Fetched
    {
        $link = $fetching->taking->link;
        $app = $fetching->taking->app;
        $isChats = $this->chats->apart($link, $app);
        $isKeptApart = $this->chats->keptApart($link, $app);
        $localBackupFiles = $this->chats->localBackupFiles($link, $app);
        $isWanted = fn (string $path): bool => !$isChats($path)
            && ($this->isWhole || !(isset($localBackupFiles[$path]) || $isKeptApart($path)));
        $fetched = (new SteadyPull($fetching, '', $isWanted))->pull(
            static fn (): string => $link->mark($app),
            fn (callable $onBytes): array => [
                $fetching->place->raw(), $this->chats->pullDatabase($link, $app, $fetching->place->raw(), $onBytes),
            ],
        );
        if ($this->isWhole && isset($fetched->unreadable[0])) {
            throw RestoreRefused::notCopiedWhole($fetched->unreadable[0]['path']);
        }

        return $fetched;
    }
}
