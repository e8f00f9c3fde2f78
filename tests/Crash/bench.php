<?php

// The application on a data folder of its own, for tests that cut its power: orders come as lines of JSON.

declare(strict_types=1);

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Geschenk\App\Bench\BenchWatch;
use Geschenk\App\Entity\Move;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Kernel;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\MoveAt;
use Geschenk\App\Tray\Intake\Intake;
use Geschenk\App\Tray\Intake\Opening;
use Geschenk\App\Work\Check\CheckKind;
use Geschenk\App\Work\RunDesk;
use Geschenk\App\Work\RunHandler;
use Geschenk\App\Work\WorkOnRun;
use Geschenk\Core\Files\Durable\ScratchFolder;
use Geschenk\Tests\Support\Phones;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\MockClock;
use Symfony\Component\DependencyInjection\ContainerInterface;

require dirname(__DIR__, 2).'/vendor/autoload.php';

$_SERVER['APP_ENV'] = $_ENV['APP_ENV'] = 'test';
$_SERVER['APP_SECRET'] = $_ENV['APP_SECRET'] = 'only-for-the-tests';
$kernel = new Kernel('test', false);
$kernel->boot();
$container = $kernel->getContainer()->get('test.service_container');
assert($container instanceof ContainerInterface);
$get = static function (string $class) use ($container): object {
    return $container->get($class) ?? throw new LogicException($class);
};
$entities = $get(EntityManagerInterface::class);
$registry = $get('doctrine');
$desk = $get(RunDesk::class);
$files = $get(MoveFiles::class);
$handler = $get(RunHandler::class);
$intake = $get(Intake::class);
$watch = $get(BenchWatch::class);
assert($registry instanceof ManagerRegistry);
assert(
    $entities instanceof EntityManagerInterface && $desk instanceof RunDesk && $files instanceof MoveFiles
        && $handler instanceof RunHandler && $intake instanceof Intake && $watch instanceof BenchWatch,
);

$tray = static fn (): Tray => $entities->getRepository(Tray::class)->findOneBy([])
    ?? throw new LogicException('No tray.');
$move = static fn (): Move => $tray()->move(1) ?? throw new LogicException('No move.');
$latest = static function () use ($entities): Run {
    $entities->clear();

    return $entities->getRepository(Run::class)->findOneBy(
        [], ['counter' => 'DESC'],
    ) ?? throw new LogicException('No run.');
};
/** What a worker does with the newest run until it is over, and with what follows it. */
$work = static function () use ($latest, $handler, $desk): void {
    for ($n = 0; $n < 8; ++$n) {
        $run = $latest();
        if (RunState::Failed === $run->state()) {
            $desk->goOn($run->move()->tray->number, $run->move()->place, $run->id, 'jette');
        } elseif (RunState::Done === $run->state()) {
            return;
        }
        $handler(new WorkOnRun($run->id));
    }
};
$answer = static function (array $order) use (
    $registry, $entities, $intake, $watch, $tray, $move, $latest, $desk, $files, $handler, $work,
): array {
    $entities->getConnection()->close();
    // As a worker does between two messages.
    $registry->resetManager();
    $entities->clear();
    ScratchFolder::sweep();
    switch ($order['do'] ?? '') {
        case 'open':
            $watch->round();
            $intake->open(
                new Opening('Test Person', 'the café', Phones::GIVING, Phones::RECEIVING, 'en'), 'jette',
            );

            return [];
        case 'ask':
            $kind = is_string($order['kind'] ?? null) ? $order['kind'] : '';
            $watch->round();
            $number = $tray()->number;
            $asked = new Asked(CheckKind::name() === $kind ? null : $number.'-B');
            $desk->ask(new MoveAt($number, 1), $kind, 'jette', $asked);

            return [];
        case 'harm':
            // As if messages had been lost on the phone, which a check then finds.
            $phone = (string) getenv('GESCHENK_DATA').'/standin/phones/'.Phones::RECEIVING;
            $harmed = new SQLite3($phone.'/data/otterpost/Pouch.sqlite');
            $harmed->exec('DELETE FROM ZSLIP WHERE Z_PK % 5 = 0');
            $harmed->close();
            $watch->round();
            $desk->ask(new MoveAt($tray()->number, 1), CheckKind::name(), 'jette');
            $work();

            return [];
        case 'bring':
            $desk->bringMissing(new MoveAt($tray()->number, 1), 'jette');

            return [];
        case 'once':
            // Progress is stored by the clock: held still, a run makes the same calls however quick it is.
            Clock::set(new MockClock('now'));
            $handler(new WorkOnRun($latest()->id));

            return [];
        case 'look':
            return ['state' => $latest()->state()->value, 'trouble' => $latest()->trouble()];
        case 'make room':
            // Nobody can take room from this disk for a test: the run forgets how little there was.
            $entities->getConnection()->executeStatement('UPDATE run SET free_when_full = NULL');

            return [];
        case 'work':
            $work();
            $run = $latest();
            $about = ['kind' => $run->kind, 'state' => $run->state()->value, 'trouble' => $run->trouble()];
            $record = $move()->backup();
            if (null !== $record) {
                $about['kept'] = $files->verified($record)->chats()->summary();
            }
            $rehearsal = $move()->bringing()->rehearsal();
            if (null !== $rehearsal) {
                $files->manifest($move());
                $about['rehearsed'] = $rehearsal['totals'];
            }
            $check = $move()->bringing()->check();
            if (null !== $check) {
                $result = $files->result($check) ?? throw new LogicException('No lines.');
                $about['arrived'] = $result->totals()->toArray();
            }

            return $about;
        default:
            throw new LogicException('There is no such order.');
    }
};
while (false !== ($line = fgets(\STDIN))) {
    $order = json_decode($line, true);
    try {
        $told = ['ok' => $answer(is_array($order) ? $order : [])];
    } catch (Throwable $error) {
        $told = ['error' => $error::class.': '.$error->getMessage().' at '.$error->getFile().':'.$error->getLine()];
    }
    fwrite(\STDOUT, json_encode($told, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE)."\n");
}
