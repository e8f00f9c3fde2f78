<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Records;
use Geschenk\App\Work\Erasing;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;

/** Behind the hand-over: what is kept and until when, the way back, and that erasing erases. */
final class KeepingTest extends ApiTestCase
{
    public function testErasingRemovesAllThatWasKeptAndTheRecordStays(): void
    {
        $n = $this->handedOver(leftOut: 1);
        $data = self::getContainer()->get(DataFolder::class);
        $keeping = (array) $this->value($this->call('GET', "/api/trays/$n"), 'keeping');
        self::assertSame([1, 1, null, []], [
            $keeping['backups'], $keeping['safety_copies'], $keeping['erased_at'], $keeping['erased'],
        ]);
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertSame(1, preg_match(
            '/Check code ([A-Z0-9-]+)\./', (string) $this->browser->getResponse()->getContent(), $told,
        ));
        $code = $told[1];
        $texts = self::textsKept($data->path);
        self::assertNotSame([], $texts, 'There is something to erase.');
        self::assertSame('wrong_number', $this->refusal('POST', "/api/trays/$n/erase", ['number' => '4']));
        $this->call('POST', "/api/trays/$n/erase", ['number' => " $n "], 202);
        self::assertSame('erased_already', $this->refusal('POST', "/api/trays/$n/erase", ['number' => "$n"]));
        $this->erase($n);
        $tray = $this->call('GET', "/api/trays/$n");
        $keeping = (array) $tray['keeping'];
        self::assertIsString($keeping['erased_at']);
        self::assertSame('jette', $keeping['erased_by']);
        $folders = (array) $keeping['erased'];
        self::assertSame(
            ['backup', 'safety_copy', 'work'], array_column($folders, 'kind'), (string) json_encode($folders),
        );
        self::assertSame([true, true, true], array_column($folders, 'gone'));
        self::assertGreaterThan(20, $this->value($folders, 0, 'files'));
        self::assertSame([], self::textsKept($data->path), 'Nothing of it is anywhere in the data folder.');
        self::assertTrue($this->value($tray, 'moves', 0, 'arrival', 'complete'), 'The record tells still.');
        $records = json_encode(self::getContainer()->get(EntityManagerInterface::class)->getConnection()
            ->fetchAllAssociative('SELECT * FROM bringing'), \JSON_THROW_ON_ERROR);
        foreach (['447700900', bin2hex('+447700900')] as $with) {
            self::assertStringNotContainsString($with, $records, 'Not whom they wrote with.');
        }
        self::assertTrue($this->call('POST', "/api/trays/$n/sheet-code", ['code' => $code])['same']);
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('was erased on', $sheet);
        foreach ([
            "{$this->backupPath($n)}/conversations", "/api/trays/$n/moves/1/scope", "/api/trays/$n/moves/1/arrival",
            "{$this->backupPath($n)}/conversations/1/messages",
        ] as $path) {
            self::assertSame('erased', $this->refusal('GET', $path, null, 404), $path);
        }
        $order = ['kind' => 'put_back', 'confirmed_tag' => "$n-B"];
        self::assertSame('erased_already', $this->refusal('POST', "/api/trays/$n/moves/1/runs", $order));
        self::assertSame('erased_already', $this->refusal('POST', "/api/trays/$n/reopen", []));
        // What is there again, whyever, is not said to be gone.
        file_put_contents(Folder::make($data->backups().'/'.$this->text($folders, 0, 'id')).'/left', 'x');
        self::assertFalse($this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'erased', 0, 'gone'));
    }

    public function testAnErasingThatWasInterruptedIsBroughtToItsEnd(): void
    {
        $n = $this->handedOver();
        $this->call('POST', "/api/trays/$n/erase", ['number' => "$n"], 202);
        // Its worker was killed half way.
        $data = self::getContainer()->get(DataFolder::class);
        $backup = $this->text($this->call('GET', "/api/trays/$n"), 'moves', 0, 'backup', 'id');
        $list = new \ReflectionMethod(Erasing::class, 'listed');
        $erasing = self::getContainer()->get(Erasing::class);
        $told = static function (Tray $tray) use ($list, $erasing): void {
            /** @var array{folders: list<array{id: string, kind: string, files: int, bytes: int}>} $listed */
            $listed = $list->invoke($erasing, $tray);
            $tray->erases($listed);
        };
        self::getContainer()->get(Records::class)->changeTray($n, $told);
        Folder::remove($data->backups().'/'.$backup.'.sealed');
        self::assertSame([], $this->value($this->call('GET', "/api/trays/$n"), 'keeping', 'erased'), 'Not gone yet.');
        $this->erase($n);
        $keeping = (array) $this->value($this->call('GET', "/api/trays/$n"), 'keeping');
        self::assertIsString($keeping['erased_at']);
        foreach ((array) $keeping['erased'] as $one) {
            self::assertIsArray($one);
            self::assertGreaterThan(0, $one['files'], 'It is known what was gone by then.');
            self::assertTrue($one['gone']);
        }
        self::assertSame([], self::textsKept($data->path));
        $this->erase($n);
        $erased = array_filter(
            (array) $this->call('GET', "/api/trays/$n")['steps'],
            static fn (mixed $step): bool => is_array($step) && 'erased' === $step['code'],
        );
        self::assertCount(1, $erased, 'Once is enough.');
    }

    public function testUntilWhenItIsKeptCanBeSaidAnew(): void
    {
        $n = $this->handedOver(['keep_until' => date('Y-m-d', strtotime('+3 days'))]);
        $this->call('PUT', "/api/trays/$n/keeping", ['keep_until' => date('Y-m-d', strtotime('+5 days'))]);
        self::assertSame(
            'no_day_to_keep', $this->refusal('PUT', "/api/trays/$n/keeping", ['keep_until' => '2020-01-01']),
        );
        foreach (['2030-02-31', 'soon'] as $day) {
            self::assertSame('no_day', $this->refusal('PUT', "/api/trays/$n/keeping", ['keep_until' => $day]));
        }
        self::assertStringContainsString(
            date('Y-m-d', strtotime('+5 days')),
            $this->text($this->call('GET', "/api/trays/$n"), 'keeping', 'until'), 'When it is erased: ShopClockTest.',
        );
    }

    public function testThePhoneIsPutBackBehindTheHandOverToo(): void
    {
        $n = $this->handedOver(before: $before);
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        $tray = $this->call('GET', "/api/trays/$n");
        self::assertIsString($this->value($tray, 'moves', 0, 'put_back_at'));
        self::assertTrue($tray['closed']);
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString("Phone $n-B was put back on", $sheet);
        // Of a phone that lies in another tray by now nothing is touched.
        $other = $this->openTray(laid: true);
        self::assertSame('in_other_tray', $this->refusal('POST', "/api/trays/$n/reopen", []));
        self::assertIsInt($other);
    }

    public function testAClosedTrayIsOpenedAnewForAnotherPhone(): void
    {
        $n = $this->handedOver();
        $phones = self::getContainer()->get(DataFolder::class)->phones();
        $third = DemoMaker::fresh($phones, [
            'serial' => 'THIRD0001', 'maker' => 'Maker', 'model' => 'Third', 'platform' => 'android',
            'os_version' => '14', 'developer_options' => true, 'debugging' => true, 'admitted' => true,
        ], Phones::customer());
        DemoMaker::rest($third->data('otterpost'));
        self::assertSame(
            'not_on_bench', $this->refusal('POST', "/api/trays/$n/reopen", ['receiving' => 'NOSUCH']),
        );
        self::assertSame(
            'one_phone_twice', $this->refusal('POST', "/api/trays/$n/reopen", ['receiving' => Phones::GIVING]),
        );
        $tray = $this->call('POST', "/api/trays/$n/reopen", ['receiving' => 'THIRD0001']);
        self::assertFalse($tray['closed']);
        self::assertSame(["$n-A", "$n-C"], array_column((array) $tray['phones'], 'tag'));
        self::assertSame('choose', $this->value($tray, 'moves', 0, 'stage'));
        self::assertCount(1, (array) $this->value($tray, 'moves', 0, 'checks'), 'What was checked is kept.');
        $this->look();
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-C"]);
        self::assertTrue($this->value($this->call('GET', "/api/trays/$n"), 'moves', 0, 'arrival', 'complete'));
        self::assertSame('not_handed_over', $this->refusal('POST', "/api/trays/$n/reopen", []));
        $this->handOver($n);
    }

    public function testTheSheetIsAPdfToo(): void
    {
        $n = $this->handedOver();
        $this->browser->request('GET', "/trays/$n/sheet.pdf");
        $response = $this->browser->getResponse();
        self::assertSame(200, $response->getStatusCode());
        self::assertSame('application/pdf', $response->headers->get('Content-Type'));
        $pdf = (string) $response->getContent();
        self::assertStringStartsWith('%PDF-', $pdf);
        $pages = preg_match_all('~/Type\s*/Page\b~', $pdf);
        self::assertGreaterThan(0, $pages);
        self::assertLessThanOrEqual(2, $pages, 'One or two pages.');
        $this->call('DELETE', '/api/session');
        $this->browser->request('GET', "/trays/$n/sheet.pdf");
        self::assertNotSame(200, $this->browser->getResponse()->getStatusCode());
    }

    /**
     * @param array<string, mixed>|null  $said
     * @param array<string, string>|null $before contents of the receiving phone before the restore
     *
     * @param-out array<string, string> $before
     */
    private function handedOver(?array $said = null, ?array &$before = null, int $leftOut = 0): int
    {
        $this->signIn();
        $n = $this->openTray();
        $before = self::contents($this->receiving->data('otterpost'));
        $this->askAndWork($n, ['kind' => 'backup']);
        $conversations = (array) $this->call('GET', "{$this->backupPath($n)}/conversations")['conversations'];
        $this->call('PUT', "/api/trays/$n/moves/1/scope", [
            'conversations' => array_column(array_slice($conversations, 1, $leftOut), 'id'),
        ]);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame('erase_after_hand_over', $this->refusal('POST', "/api/trays/$n/erase", ['number' => "$n"]));
        $this->handOver($n, $said ?? []);

        return $n;
    }

    /** Does what the worker does that is handed the erasing. */
    private function erase(int $n): void
    {
        self::getContainer()->get(Erasing::class)->do($n);
    }

    /** @return list<string> files of the shop, beside phones and records, that hold anything of chats */
    private static function textsKept(string $data): array
    {
        $kept = [];
        foreach (['backups', 'trays', 'scratch'] as $folder) {
            foreach (is_dir("$data/$folder") ? Folder::files("$data/$folder") : [] as $path) {
                $kept[] = "$folder/$path";
            }
        }

        return $kept;
    }
}
