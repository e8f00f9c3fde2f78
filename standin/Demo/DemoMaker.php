<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Otterpost\Android\AndroidSchema;
use Geschenk\Core\Messenger\Otterpost\Android\SealedBackup;
use Geschenk\Core\Messenger\Otterpost\Ios\IosSchema;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Sqlite\Database;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Standin\Phone\Bench;
use Geschenk\Standin\Phone\EmptyMessenger;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\LocalBackupsOnPhone;
use Geschenk\Standin\Phone\PhoneFolder;

/**
 * Lays the demonstration's phones on the bench: a harbour-town shop with six customers. Makers, models, people and
 * texts are made up, numbers are from ranges reserved for fiction, and the same seed makes the same chats.
 *
 * @phpstan-import-type State from PhoneFolder
 */
final class DemoMaker
{
    public const SEED = 19_070_412;
    /** Goes up when what is made could no longer be read as it was. */
    public const VERSION = 6;
    private const VERSION_FILE = 'demonstration-version';
    /** Opens the sealed backup that the netmaker's phone holds its chats in; its stand-in tells it. */
    public const NETMAKERS_PASSWORD = 'three herrings, no oar';
    /** The two-step PIN that the secretary's account has. */
    private const SECRETARYS_PIN = '2580';
    /** Opens the backups that the baker's messenger makes of itself. */
    public const BAKERS_KEY = 'c04e9a17 5b2f83d6 7719e0aa 32d85c4b 9e61f70d 48b3a2c5 e1d70f96 2a5c8b34';
    /** Opens the sealed backup on the skipper's phone; docs/cli.md tells it. */
    public const SKIPPERS_KEY = '5a1e0c7b 93d24f60 8e11ab07 44c9d2f3 0b6e7719 c2a5d8e4 f0316b9a 7d48e25c';

    /**
     * @param string                 $folder where the phones go
     * @param callable(string): void $say    told what is being made
     */
    public static function make(string $folder, callable $say): void
    {
        $android = ['platform' => 'android', 'developer_options' => true, 'debugging' => true, 'admitted' => true];
        $ios = ['platform' => 'ios', 'developer_options' => false, 'debugging' => false, 'admitted' => true];
        $secretary = self::awkwardPhone(
            $folder, $say, Customer::secretary(), 1,
            [
                'serial' => 'KFM4071190', 'maker' => 'Kestrelworks', 'model' => 'Fathom 4', 'os_version' => '14',
                'admitted' => false, 'debugging' => false, 'developer_options' => false, 'unlocked' => false,
                'battery' => 64, 'lock_after' => 30,
            ] + $android,
        );
        $secretary->change(static fn (array $s): array => [
            'apps' => array_map(static fn (array $app): array => ['pin' => self::SECRETARYS_PIN] + $app, $s['apps']),
        ] + $s);
        self::leaveBackups($secretary, $say, Hands::APP['id'], [14 => true, 9 * 24 => false]);
        self::fresh(
            $folder,
            [
                'serial' => 'LSL2260418', 'maker' => 'Lindenau', 'model' => 'Slate 2', 'os_version' => '18.1',
                'owner' => Customer::secretary()->name, 'admitted' => false, 'battery' => 81, 'theft_lock' => true,
            ] + $ios,
            Customer::secretary(),
        );
        $skipper = self::phone(
            $folder, $say, Customer::skipper(), 2,
            [
                'serial' => 'BRG0090233', 'maker' => 'Bergmann', 'model' => 'Quay S', 'os_version' => '12',
                'battery' => 58,
            ] + $android,
        );
        self::fresh(
            $folder,
            [
                'serial' => 'LSL2260907', 'maker' => 'Lindenau', 'model' => 'Slate 2', 'os_version' => '18.1',
                'owner' => Customer::skipper()->name,
                'faults' => [
                    ['on' => 'first_open', 'do' => 'lose_files', 'largest' => 2, 'from' => 0.38, 'to' => 0.56],
                ],
            ] + $ios,
            Customer::skipper(),
        );
        OldPouch::make($skipper->data(Hands::APP['id']));
        SealedBackup::seal(
            $skipper->data(Hands::APP['id']).'/'.AndroidSchema::DATABASE,
            $skipper->data(Hands::APP['id']).'/'.SealedBackup::FILE, BackupKey::of(self::SKIPPERS_KEY),
        );
        $baker = self::phone(
            $folder, $say, Customer::baker(), 8,
            [
                'serial' => 'KFM3055821', 'maker' => 'Kestrelworks', 'model' => 'Fathom 3', 'os_version' => '13',
                'battery' => 12, 'lock_after' => 30,
            ] + $android,
        );
        self::addAccount($baker, $say, Customer::bakery(), 3, false);
        self::lockBackups($baker, Hands::APP['id'], self::BAKERS_KEY);
        self::leaveBackups($baker, $say, Hands::APP['id'], [11 => true]);
        self::fresh(
            $folder,
            [
                'serial' => 'LSM1130052', 'maker' => 'Lindenau', 'model' => 'Slate Mini', 'os_version' => '17.6',
                'owner' => Customer::baker()->name, 'admitted' => false, 'unlocked' => false, 'theft_lock' => true,
            ] + $ios,
            null,
        );
        $conductor = self::phone(
            $folder, $say, Customer::conductor(), 4,
            ['serial' => 'BRG0114460', 'maker' => 'Bergmann', 'model' => 'Quay', 'os_version' => '13'] + $android,
        );
        RebuildPouch::make($conductor->data(Hands::APP['id']));
        self::phone(
            $folder, $say, Customer::conductorsFirstWeek(), 5,
            ['serial' => 'LSL2261544', 'maker' => 'Lindenau', 'model' => 'Slate 2', 'os_version' => '18.1'] + $ios,
        );
        $keeper = self::phone(
            $folder, $say, Customer::keeper(), 6,
            [
                'serial' => 'LSL0870115', 'maker' => 'Lindenau', 'model' => 'Slate 1', 'os_version' => '16.4',
                'battery' => 71,
            ] + $ios,
        );
        WornStorage::spoil($keeper->data(Hands::APP['id']).'/'.IosSchema::DATABASE, 'ZSLIP');
        self::fresh(
            $folder,
            [
                'serial' => 'BRG0220871', 'maker' => 'Bergmann', 'model' => 'Quay 2', 'os_version' => '15',
                'owner' => Customer::keeper()->name,
            ] + $android,
            Customer::keeper(),
        );
        $netmaker = self::phone(
            $folder, $say, Customer::netmaker(), 7,
            [
                'serial' => 'KFM5120077', 'maker' => 'Kestrelworks', 'model' => 'Fathom 5', 'os_version' => '15',
                'battery' => 88,
            ] + $android,
        );
        $say(sprintf('  and %s more in one room of it', number_format(BusyRoom::SLIPS)));
        BusyRoom::add($netmaker->data(Hands::APP['id']));
        self::sealOnly($netmaker->data(Hands::APP['id']), BackupKey::of(self::NETMAKERS_PASSWORD));
        self::lockBackups($netmaker, Hands::APP['id'], self::NETMAKERS_PASSWORD);
        self::fresh(
            $folder,
            [
                'serial' => 'LSM1190416', 'maker' => 'Lindenau', 'model' => 'Slate Mini', 'os_version' => '18.1',
                'owner' => Customer::netmaker()->name,
            ] + $ios,
            Customer::netmaker(),
        );
        file_put_contents($folder.'/'.self::VERSION_FILE, (string) self::VERSION);
    }

    /** As a messenger does whose owner turned encryption on: what can be taken from the phone is the sealed backup. */
    public static function sealOnly(string $data, BackupKey $key): void
    {
        $path = $data.'/'.AndroidSchema::DATABASE;
        $database = Database::create($path);
        $database->execute(
            'PRAGMA locking_mode = NORMAL; PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE',
        );
        $database->close();
        SealedBackup::seal($path, $data.'/'.SealedBackup::FILE, $key);
        foreach (['', '-wal', '-shm'] as $suffix) {
            @unlink($path.$suffix);
        }
    }

    /** What the messenger locks its own backups with from now on; its owner tells it. */
    public static function lockBackups(PhoneFolder $phone, string $app, string $key): void
    {
        $phone->change(static fn (array $s): array => ['apps' => array_map(
            static fn (array $one): array => ($one['id'] === $app ? ['backup_key' => $key] : []) + $one, $s['apps'],
        )] + $s);
    }

    /**
     * Backups that the messenger made of itself.
     *
     * @param callable(string): void $say
     * @param array<int, bool>       $backups whether with videos, by the hours since it was made
     */
    private static function leaveBackups(PhoneFolder $phone, callable $say, string $app, array $backups): void
    {
        $say(sprintf('  and %d of the messenger’s own backups', count($backups)));
        foreach ($backups as $hours => $withVideos) {
            $madeAt = ChatMaker::NOW - $hours * 3_600_000;
            LocalBackupsOnPhone::make($phone, $app, $withVideos, intdiv($madeAt, 1000), $madeAt);
        }
    }

    /** As after a while in which the messenger wrote nothing. */
    public static function rest(string $data): void
    {
        foreach (Folder::files($data) as $file) {
            touch($data.'/'.$file, time() - 3600);
        }
    }

    public static function isOfToday(string $folder): bool
    {
        return is_file($folder.'/'.self::VERSION_FILE)
            && self::VERSION === (int) file_get_contents($folder.'/'.self::VERSION_FILE);
    }

    /** @param float $megabytesPerSecond 0 is unlimited */
    public static function setCables(string $folder, float $megabytesPerSecond): void
    {
        $bench = new Bench($folder);
        foreach ($bench->serials() as $serial) {
            Hands::setCableSpeed($bench->phone($serial), $megabytesPerSecond);
        }
    }

    /**
     * A phone in use.
     *
     * @param callable(string): void $say
     * @param array<string, mixed>   $state
     */
    public static function phone(
        string $folder,
        callable $say,
        Customer $customer,
        int $number,
        array $state,
    ): PhoneFolder {
        $phone = self::blank($folder, ['owner' => $customer->name] + $state);
        self::addAccount($phone, $say, $customer, $number, false);

        return $phone;
    }

    /**
     * The same with all that is awkward about chats.
     *
     * @param callable(string): void $say
     * @param array<string, mixed>   $state
     */
    public static function awkwardPhone(
        string $folder,
        callable $say,
        Customer $customer,
        int $number,
        array $state,
    ): PhoneFolder {
        $phone = self::blank($folder, ['owner' => $customer->name] + $state);
        self::addAccount($phone, $say, $customer, $number, true);

        return $phone;
    }

    /**
     * One more account on a phone, in the app of the customer's edition.
     *
     * @param callable(string): void $say
     */
    public static function addAccount(
        PhoneFolder $phone,
        callable $say,
        Customer $customer,
        int $number,
        bool $awkward,
    ): void {
        $state = $phone->state();
        $say(sprintf(
            '%s’s %s: %s messages in %d conversations', $customer->name, $state['model'],
            number_format($customer->slips), $customer->rooms,
        ));
        $app = $customer->app();
        $phone->change(static fn (array $s): array => [
            'apps' => [...$s['apps'], [...Hands::APPS[$app], 'number' => $customer->number]],
            'sim' => $s['sim'] ?? $customer->number,
        ] + $s);
        $scratch = ScratchFolder::make();
        $store = new StoreWriter($scratch->path.'/demo.sqlite');
        (new ChatMaker($customer, self::SEED + $number, $scratch->path))->fill($store);
        $store->finish();
        $writer = (new Formats())->writing('Otterpost', Platform::from($state['platform']))?->writer();
        $writer ?? throw new \LogicException('No writer.');
        $target = $phone->data($app);
        $chats = new ChatStore($scratch->path.'/demo.sqlite');
        $writer->write($chats, new FolderFiles($scratch->path), $target, new NoProgress());
        if ($awkward) {
            AwkwardRows::add($target);
        }
        if (Platform::Android->value === $state['platform']) {
            AwkwardRows::newest($target);
        }
        self::rest($target);
    }

    /**
     * A new phone, its messenger registered with the customer's number, or without a messenger.
     *
     * @param array<string, mixed> $state
     */
    public static function fresh(string $folder, array $state, ?Customer $customer): PhoneFolder
    {
        $app = $customer?->app() ?? Hands::APP['id'];
        $apps = null === $customer ? [] : [[...Hands::APPS[$app], 'number' => $customer->number]];
        $phone = self::blank($folder, ['apps' => $apps] + $state);
        if (null !== $customer) {
            EmptyMessenger::install($phone, $app, $customer->number, $customer->name);
        }

        return $phone;
    }

    /** @param array<string, mixed> $state */
    private static function blank(string $folder, array $state): PhoneFolder
    {
        $defaults = [
            'owner' => '', 'plugged' => true, 'unlocked' => true, 'battery' => 76, 'storage_total' => 128_000_000_000,
            'storage_other' => 61_300_000_000, 'cable_mb_s' => 0.0, 'apps' => [], 'faults' => [],
        ];
        /** @var State $whole */
        $whole = $state + $defaults;
        Folder::remove($folder.'/'.$whole['serial']);

        return PhoneFolder::make($folder.'/'.$whole['serial'], $whole);
    }
}
