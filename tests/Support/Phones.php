<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Phone\PhoneLink;
use Geschenk\Standin\Demo\Customer;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Standin\Phone\FolderPhoneLink;
use Geschenk\Standin\Phone\PhoneFolder;

/** Small stand-in phones for tests. */
final class Phones
{
    public const GIVING = 'GIVES0001';
    public const RECEIVING = 'RECEIVES1';
    public const NUMBER = '+447700900700';

    /** @var array<string, ScratchFolder> made once, for a phone is made in a third of a second, and copied in none */
    private static array $made = [];

    public static function customer(int $slips = 90, string $edition = 'Otterpost'): Customer
    {
        return new Customer(
            'Test Person', self::NUMBER, ['family', 'bees'],
            [['title' => 'Committee', 'topic' => 'bees', 'share' => 40, 'people' => 4]], 7, $slips,
            ['photo' => 120, 'voice' => 60, 'document' => 30], 'hex', 2024, true, $edition,
        );
    }

    /** @param array<string, mixed> $state */
    public static function giving(
        string $folder,
        array $state = [],
        bool $awkward = true,
        int $slips = 90,
        string $edition = 'Otterpost',
    ): PhoneFolder {
        $state += [
            'serial' => self::GIVING, 'maker' => 'Maker', 'model' => 'Old', 'platform' => 'android',
            'os_version' => '14', 'developer_options' => true, 'debugging' => true, 'admitted' => true,
        ];
        $kind = serialize([$state, $awkward, $slips, $edition]);
        if (!isset(self::$made[$kind])) {
            self::$made[$kind] = ScratchFolder::make();
            $make = $awkward ? DemoMaker::awkwardPhone(...) : DemoMaker::phone(...);
            $make(
                self::$made[$kind]->path, static fn (string $line) => null, self::customer($slips, $edition), 9, $state,
            );
        }
        $serial = is_string($state['serial']) ? $state['serial'] : self::GIVING;
        Folder::make($folder);
        Folder::remove($folder.'/'.$serial);
        exec(sprintf(
            'cp -a %s %s', escapeshellarg(self::$made[$kind]->path.'/'.$serial), escapeshellarg($folder.'/'),
        ), $lines, $status);

        return 0 === $status
            ? new PhoneFolder($folder.'/'.$serial)
            : throw new \RuntimeException('The phone could not be copied.');
    }

    /** @param array<string, mixed> $state */
    public static function receiving(string $folder, array $state = []): PhoneFolder
    {
        return DemoMaker::fresh(
            $folder,
            $state + [
                'serial' => self::RECEIVING, 'maker' => 'Maker', 'model' => 'New', 'platform' => 'ios',
                'os_version' => '18', 'developer_options' => false, 'debugging' => false, 'admitted' => true,
            ],
            self::customer(),
        );
    }

    /** Puts a phone's chats into a sealed backup, as they then lie nowhere else on it. */
    public static function seal(PhoneFolder $phone, string $password): void
    {
        DemoMaker::sealOnly($phone->data('otterpost'), BackupKey::of($password));
    }

    public static function link(PhoneFolder $phone): PhoneLink
    {
        return new FolderPhoneLink($phone);
    }

    /**
     * @param array{
     *     on: string, do: string, path?: string, after_bytes?: int, largest?: int, from?: float, to?: float,
     * } $fault
     */
    public static function plan(PhoneFolder $phone, array $fault): void
    {
        $phone->change(static fn (array $s): array => ['faults' => [...$s['faults'], $fault]] + $s);
    }

    public static function plug(PhoneFolder $phone, bool $in = true): void
    {
        $phone->change(static fn (array $s): array => ['plugged' => $in] + $s);
    }

    /** A mark of everything in a folder: any write would change it. */
    public static function fingerprint(string $folder): string
    {
        $marks = '';
        foreach (Folder::files($folder) as $path) {
            $marks .= $path.hash_file('sha256', $folder.'/'.$path).filemtime($folder.'/'.$path)."\n";
        }

        return hash('sha256', $marks);
    }
}
