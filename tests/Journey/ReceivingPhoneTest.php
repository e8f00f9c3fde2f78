<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Origin;
use Geschenk\App\Shop;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Pages;
use Geschenk\Tests\Support\Phones;
use PHPUnit\Framework\Attributes\DataProvider;

/** The receiving phone's chats count as much as the giving phone's: what it can't give or loses is told. */
final class ReceivingPhoneTest extends ApiTestCase
{
    /** @return iterable<string, array{bool}> */
    public static function ways(): iterable
    {
        yield 'merged' => [true];
        yield 'replaced' => [false];
    }

    #[DataProvider('ways')]
    public function testWhatCanNotBeReadOfItIsSaidInNumbersAndAgreedTo(bool $merges): void
    {
        $n = $this->backedUp(400, damaged: true);
        $counts = $this->counts($n);
        $lost = $counts['lost'];
        self::assertIsInt($lost);
        self::assertGreaterThan(20, $lost, 'Said on the bench.');
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => $merges]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $move = $this->move($n);
        self::assertSame($merges ? $lost : null, is_array($move['merge']) ? $move['merge']['lost'] : null);
        $order = [
            'kind' => 'restore', 'confirmed_tag' => "$n-B",
            ...($merges ? [] : ['replaces' => $counts['messages']]),
        ];
        $before = self::contents($this->receiving->data('otterpost'));
        foreach ([[], ['unreadable' => 0], ['unreadable' => $lost - 1]] as $agreed) {
            $refused = $this->call('POST', "/api/trays/$n/moves/1/runs", $agreed + $order, 422);
            self::assertStringContainsString('nobody has agreed to that number', $this->text($refused, 'detail'));
        }
        $this->askAndWork($n, ['unreadable' => $lost] + $order);
        $move = $this->move($n);
        self::assertTrue($this->value($move, 'arrival', 'complete'), (string) json_encode($move['run']));
        self::assertSame($lost, $this->value($move, 'safety_copy', 'lost'), 'Said beside the check.');
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertStringContainsString(
            "$lost messages that were on $n-B before could not be read",
            (string) $this->browser->getResponse()->getContent(),
        );
        // The damaged original goes along with the safety copy, and is kept longer.
        $copies = self::getContainer()->get(EntityManagerInterface::class)->getRepository(Backup::class)
            ->findBy(['origin' => Origin::SafetyCopy]);
        self::assertSame([$before['Pouch.sqlite']], array_map(
            fn (Backup $copy): string => $this->pulled($copy->id)['Pouch.sqlite'], $copies,
        ));
        $this->handOver($n);
        $until = new \DateTimeImmutable($this->text($this->call('GET', "/api/trays/$n"), 'keeping', 'until'));
        self::assertGreaterThan(Shop::KEEP_DAYS_DAMAGED - 2, (int) (new \DateTimeImmutable())->diff($until)->days);
    }

    public function testWhatWasKeptAndIsLostAfterwardsComesFromTheSafetyCopy(): void
    {
        $n = $this->backedUp(60);
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => true]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $kept = $this->value($this->move($n), 'arrival', 'kept');
        self::assertIsInt($kept);
        self::assertGreaterThan(10, $kept);
        $whole = $this->texts();

        // A message and a file that only the phone had are lost on it.
        $this->harm("DELETE FROM ZSLIP WHERE Z_PK IN (SELECT Z_PK FROM ZSLIP WHERE ZBODY LIKE 'only here%' LIMIT 1)");
        $file = $this->path($this->receiving->data('otterpost'), 'only-here');
        unlink($file);
        $this->askAndWork($n, ['kind' => 'check']);
        $totals = (array) $this->value($this->move($n), 'arrival');
        self::assertGreaterThanOrEqual(2, $totals['kept_missing'], (string) json_encode($totals));
        self::assertFalse($totals['complete']);
        $this->call('POST', "/api/trays/$n/moves/1/missing", null, 202);
        $this->work();
        $this->look();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $totals = (array) $this->value($this->move($n), 'arrival');
        self::assertTrue($totals['complete'], (string) json_encode($totals));
        self::assertSame([$kept, 0], [$totals['kept'], $totals['kept_missing']]);
        self::assertSame($whole, $this->texts());
        self::assertFileExists($this->path($this->receiving->data('otterpost'), 'only-here'));

        // And it stays expected, whatever is brought next: lost once more, it is missing once more.
        $this->harm("DELETE FROM ZSLIP WHERE Z_PK IN (SELECT Z_PK FROM ZSLIP WHERE ZBODY LIKE 'only here%' LIMIT 1)");
        $this->askAndWork($n, ['kind' => 'check']);
        self::assertGreaterThan(0, $this->value($this->move($n), 'arrival', 'kept_missing'));
    }

    /** @return int the tray, backed up, with a phone that holds chats and receives */
    private function backedUp(int $slips, bool $damaged = false): int
    {
        $this->signIn();
        $this->layPhones();
        $this->receiving = DemoMaker::phone(
            self::getContainer()->get(DataFolder::class)->phones(), static fn (string $line) => null,
            Phones::customer($slips), 13,
            [
                'serial' => Phones::RECEIVING, 'maker' => 'Maker', 'model' => 'New', 'platform' => 'ios',
                'os_version' => '18', 'developer_options' => false, 'debugging' => false, 'admitted' => true,
            ],
        );
        $folder = $this->receiving->data('otterpost');
        $this->harm("UPDATE ZSLIP SET ZBODY = 'only here ' || Z_PK WHERE ZBODY IS NOT NULL AND Z_PK % 5 = 0");
        $this->markAFile($folder);
        if ($damaged) {
            Pages::zero($folder.'/Pouch.sqlite', 'ZSLIP', [2, 4, 6]);
        }
        $n = $this->openTray(laid: true);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->look();

        return $n;
    }

    /** @return array<mixed> */
    private function counts(int $n): array
    {
        return (array) $this->value(
            $this->call('GET', "/api/trays/$n"), 'phones', 1, 'live', 'accounts', 0, 'holds', 'counts',
        );
    }

    /** One of the phone's files gets a content that the giving phone's have not. */
    private function markAFile(string $folder): void
    {
        foreach (Folder::files($folder, 'Parcels') as $path) {
            if (!str_contains($path, '/peek/') && str_ends_with($path, '.jpg')) {
                file_put_contents($folder.'/'.$path, "\xFF\xD8\xFFonly-here");

                return;
            }
        }
        self::fail('There is no picture.');
    }

    private function path(string $folder, string $with): string
    {
        foreach (Folder::files($folder) as $path) {
            if (str_ends_with($path, '.jpg') && str_contains((string) file_get_contents($folder.'/'.$path), $with)) {
                return $folder.'/'.$path;
            }
        }
        self::fail("Nothing with $with.");
    }

    private function harm(string $sql): void
    {
        $database = new \SQLite3($this->receiving->data('otterpost').'/Pouch.sqlite');
        $database->exec($sql);
        $database->close();
    }

    /** @return list<string> */
    private function texts(): array
    {
        $database = new \SQLite3($this->receiving->data('otterpost').'/Pouch.sqlite');
        $texts = $database->querySingle(
            'SELECT group_concat(ZBODY, char(10)) FROM (SELECT ZBODY FROM ZSLIP ORDER BY ZBODY)',
        );
        $database->close();
        self::assertIsString($texts);

        return explode("\n", $texts);
    }
}
