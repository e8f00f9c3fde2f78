<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support\Ways;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Core\Phone\PhoneState;
use Geschenk\Core\Phone\Rule\ToldStep;
use Geschenk\Core\Progress;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\Transfer\Fetching;
use Geschenk\Core\Transfer\Glance;
use Geschenk\Core\Transfer\Offer;
use Geschenk\Core\Transfer\Pull;
use Geschenk\Core\Transfer\SteadyPull;
use Geschenk\Core\Transfer\Taking;
use Geschenk\Core\Transfer\WayIn;
use Geschenk\Core\UnusableInput;

/**
 * A way in of somebody else's, and nothing in core/ or src/ knows of it: an older version that is lent to the phone
 * packs the chats into a box under a password; it has to be there while they are taken, and is removed again.
 */
final class LentVersionWay implements WayIn
{
    public const BOX = 'lent/chats.box';
    /** That its owner has confirmed it: no phone shows that. */
    public const CONFIRMED = 'lent_confirmed';

    public static function name(): string
    {
        return 'lent_version';
    }

    /** Packs the chats of a data folder as they are. */
    public static function pack(string $data, #[\SensitiveParameter] string $password, int $madeAt): void
    {
        Folder::make($data.'/lent');
        $packed = gzencode((string) file_get_contents($data.'/pouch.db'));
        file_put_contents($data.'/'.self::BOX, hash('sha256', $password)."\n".$packed);
        touch($data.'/'.self::BOX, $madeAt);
    }

    public function offers(PhoneLink $link, string $app): array
    {
        $box = $link->file($app, self::BOX);

        return null === $box ? [] : [
            new Offer(self::name(), self::BOX, $box->changed, $box->changedAt, $box->bytes, BackupLock::Password),
        ];
    }

    public function glance(PhoneLink $link, string $app): Glance
    {
        $box = $link->file($app, self::BOX);

        return null === $box ? new Glance() : new Glance([$box->path.':'.$box->changed], 0, $box->bytes);
    }

    public function canBeMade(PhoneState $phone, string $app): bool
    {
        return false;
    }

    public function steps(): array
    {
        return [new VersionLent(), new ToldStep(self::CONFIRMED, isLeft: true)];
    }

    public function switches(PhoneState $phone, string $app): array
    {
        return ['lent_version' => (int) VersionLent::isLent($phone, $app)];
    }

    public function lookInto(Taking $taking, string $path, Progress $progress): void
    {
        throw new \LogicException('It is always locked.');
    }

    public function bytes(Taking $taking): int
    {
        return $taking->offer->bytes ?? 0;
    }

    public function fetch(Fetching $fetching): Fetched
    {
        $taking = $fetching->taking;
        $isWanted = static fn (string $path): bool => str_starts_with($path, 'parcels/');

        return (new SteadyPull($fetching, '', $isWanted))->pull(
            static fn (): string => $taking->link->file($taking->app, self::BOX)->changed ?? '',
            static function (callable $onBytes) use ($fetching, $taking): array {
                $box = $fetching->place->raw().'/'.self::BOX;
                (new Pull($taking->link, $taking->app, $onBytes))->file(self::BOX, $box);
                $unpacked = ScratchFolder::make();
                self::open($box, $taking->key, $unpacked->path.'/pouch.db');

                return [$unpacked, []];
            },
        );
    }

    private static function open(string $box, ?BackupKey $key, string $target): void
    {
        [$hash, $packed] = explode("\n", Disk::contents($box), 2);
        if ($hash !== hash('sha256', $key->told ?? '')) {
            throw UnusableInput::sealedNeedsKey('@phone_data');
        }
        Disk::put($target, (string) gzdecode($packed));
    }
}
